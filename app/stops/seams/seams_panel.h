#pragma once

#include "stops/repairs/patches_page.h"
#include "stops/repairs/stretches_page.h"
#include "stops/repairs/strokes_page.h"
#include "stops/seams/one_by_one_page.h"

namespace lampo {

/// The stop Seams: each seam, what rules them all, and the repairs on top.
class SeamsPanel : public Panel {
    Q_OBJECT
public:
    SeamsPanel(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);
    QString state() const override;
    SeamsTable& table() { return page_->table(); }
    PatchesPage& patches() { return *patches_; }
    StrokesPage& strokes() { return *strokes_; }
    SeamListening& listening() { return page_->listening(); }
    MicChoice& repairMics() { return mics_; }
    StrokeRepairs& strokeRepairs() { return strokeRepairs_; }
    StretchRepairs& stretchRepairs() { return stretchRepairs_; }
    /// Follows the sheet.
    void showChosen(const std::vector<SeamIndex>& seams) { page_->showChosen(seams); }

private:
    MicChoice mics_;
    StrokeRepairs strokeRepairs_;
    StretchRepairs stretchRepairs_;
    SeamsPage* page_;
    StrokesPage* strokes_;
    PatchesPage* patches_;
};

} // namespace lampo
