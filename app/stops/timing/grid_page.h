#pragma once

#include "stops/panel.h"
#include "stops/where_box.h"

namespace lampo {

/// How hits are brought to the grid: of the song, or of a section.
class GridPage : public Panel {
    Q_OBJECT
public:
    explicit GridPage(Document& document, QWidget* parent = nullptr);

private:
    void addScope();
    void addSettings();
    void addDrums();
    std::optional<std::size_t> section() const { return where_->section(); }
    TimingSettings ruling() const;

    WhereBox* where_ = nullptr;
    Reach usualReach_{80, false}; ///< what a reach counts where none is set yet
};

} // namespace lampo
