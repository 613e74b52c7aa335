#pragma once

#include "midi/tempo_map.h"
#include "stops/panel.h"

namespace lampo {

class MapCheckPage;

/// Tempo and meter with their changes, where bar 1 lies, and the sections.
class MapPanel : public Panel {
    Q_OBJECT
public:
    explicit MapPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;
    /// The map of a MIDI file, and sections at its markers where it has any, in one step.
    void importMap(const QString& file);
    void exportMap(const QString& file);
    /// The same after asking for the file.
    void chooseImport();
    void chooseExport();
    MapCheckPage& check() { return *check_; }

signals:
    /// Bar 1 should be where the chosen hit was played.
    void originFromSelection();
    /// The bars to make a section of.
    void sectionWanted();
    void notified(const QString& sentence);

private:
    std::vector<Section> sectionsAt(const std::vector<Marker>& markers) const;

    MapCheckPage* check_ = nullptr;
};

} // namespace lampo
