#pragma once

#include "stops/panel.h"

#include <QComboBox>

namespace lampo {

/// Tempo, meter, where bar 1 lies, and the sections' own grids.
class MapPanel : public Panel {
    Q_OBJECT
public:
    explicit MapPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

signals:
    /// "Bar 1 is the selected hit" was asked for.
    void originFromSelection();

private:
    void showSections();

    QFormLayout* sections_ = nullptr;
    std::vector<Section> shown_;
};

/// The grids a menu offers, and their names.
const std::vector<NoteValue>& offeredGrids();
QStringList offeredGridNames();
int offeredGridIndex(NoteValue grid);

} // namespace lampo
