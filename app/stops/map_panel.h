#pragma once

#include "midi/tempo_map.h"
#include "stops/panel.h"

#include <QComboBox>

class QTableWidget;

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
    /// "Bar 1 is the selected hit" was asked for.
    void originFromSelection();
    /// The bars to make a section of.
    void sectionWanted();
    void troubled(const QString& sentence);

private:
    QTableWidget* addTable(const QString& title, const QStringList& heads, int stretch);
    void addChanges();
    void addSections();
    void showChanges();
    void showSections();
    void changed(int row, int column);
    void addChange(int bar);
    std::vector<Section> sectionsAt(const std::vector<Marker>& markers) const;
    void dropChange();
    void sectionChanged(int row, int column);
    void dropSection();

    MapCheckPage* check_ = nullptr;
    QTableWidget* changes_ = nullptr;
    QTableWidget* sections_ = nullptr;
    std::vector<Section> shown_;
};

/// The grids a menu offers, and their names.
const std::vector<NoteValue>& offeredGrids();
QStringList offeredGridNames();
int offeredGridIndex(NoteValue grid);

} // namespace lampo
