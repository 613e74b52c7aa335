#pragma once

#include "stops/seams/one_by_one_page.h"

namespace lampo {

/// The stop Seams: each seam, and what rules them all.
class SeamsPanel : public Panel {
    Q_OBJECT
public:
    explicit SeamsPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;
    SeamsTable& table() { return page_->table(); }
    SeamListening& listening() { return page_->listening(); }
    /// Follows the sheet.
    void showChosen(const std::vector<SeamIndex>& seams) { page_->showChosen(seams); }

private:
    SeamsPage* page_;
};

} // namespace lampo
