#pragma once

#include "stops/panel.h"

class QToolButton;

namespace lampo {

class SeamsTable;

/// Lead-in, fades, and what becomes of holes; all seams, and what the chosen ones have of their own.
class SeamsPanel : public Panel {
    Q_OBJECT
public:
    explicit SeamsPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;
    SeamsTable& table() { return *table_; }
    /// Follows the sheet.
    void showChosen(const std::vector<SeamIndex>& seams);
    /// As if nothing had been said about the chosen ones.
    void resetChosen();

private:
    void addSong();
    void addTally();
    void addChosen();
    /// Those of them that can be shaped.
    std::vector<Seam> chosen() const;
    /// What the first chosen seam is, and what was said about it; null: none is chosen, nothing was said.
    const Seam* first() const;
    const SeamByHand* said() const;
    QString tally() const;

    SeamsTable* table_ = nullptr;
    QToolButton* reset_ = nullptr;
    std::vector<SeamIndex> chosen_;
};

} // namespace lampo
