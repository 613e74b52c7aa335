#pragma once

#include "document/document.h"
#include "stops/choice_table.h"

namespace lampo {

/// All seams: place, kind, length, how far they dip, what placed them.
class SeamsTable : public QWidget {
    Q_OBJECT
public:
    explicit SeamsTable(Document& document, QWidget* parent = nullptr);

    void refresh() { table_->refresh(); }
    /// Follows the sheet.
    void showChosen(const std::vector<SeamIndex>& seams);

signals:
    /// Chosen here; `current` is the row that keys speak of.
    void chosen(const std::vector<SeamIndex>& seams, SeamIndex current);

private:
    ChoiceTable* table_;
};

} // namespace lampo
