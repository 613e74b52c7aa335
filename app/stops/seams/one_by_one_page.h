#pragma once

#include "stops/panel.h"
#include "stops/seams/listening.h"
#include "stops/seams/seams_table.h"

class QToolButton;

namespace lampo {

/// All seams, what the chosen ones have of their own, and how they are listened to.
class SeamsPage : public Panel {
    Q_OBJECT
public:
    explicit SeamsPage(Document& document, QWidget* parent = nullptr);
    SeamsTable& table() { return *table_; }
    SeamListening& listening() { return *listening_; }
    void showChosen(const std::vector<SeamIndex>& seams);
    void resetChosen();

private:
    void addTally();
    void addChosen();
    /// Those of them that can be shaped.
    std::vector<Seam> chosen() const;
    /// What the first chosen seam is, and what was said about it; null: none is chosen, nothing was said.
    const Seam* first() const;
    const SeamByHand* said() const;
    QString tally() const;

    SeamsTable* table_;
    SeamListening* listening_;
    QToolButton* reset_ = nullptr;
    std::vector<SeamIndex> chosen_;
};

} // namespace lampo
