#pragma once

#include "document/document.h"
#include "stops/choice_table.h"

namespace lampo {

/// All hits: place, drum, level, mics, how clearly it is a hit, and what becomes of it; filtered by words and by
/// drum.
class HitsTable : public QWidget {
    Q_OBJECT
public:
    explicit HitsTable(Document& document, QWidget* parent = nullptr);

    void refresh() { table_->refresh(); }
    /// Follows the sheet.
    void showChosen(const std::vector<HitIndex>& hits);

signals:
    /// Chosen here; `current` is the row that keys speak of.
    void chosen(const std::vector<HitIndex>& hits, HitIndex current);

private:
    ChoiceTable* table_;
};

} // namespace lampo
