#pragma once

#include "stops/seams/one_by_one_page.h"
#include "stops/seams/patches_page.h"

namespace lampo {

/// The stop Seams: each seam, what rules them all, and the patches on top.
class SeamsPanel : public Panel {
    Q_OBJECT
public:
    explicit SeamsPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;
    SeamsTable& table() { return page_->table(); }
    PatchesPage& patches() { return *patches_; }
    SeamListening& listening() { return page_->listening(); }
    /// Follows the sheet.
    void showChosen(const std::vector<SeamIndex>& seams) { page_->showChosen(seams); }

private:
    SeamsPage* page_;
    PatchesPage* patches_;
};

} // namespace lampo
