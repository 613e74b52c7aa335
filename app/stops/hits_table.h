#pragma once

#include "document/document.h"

#include <QAbstractTableModel>
#include <QWidget>

class QLineEdit;
class QTableView;

namespace lampo {

/// All hits as rows: place, drum, level, mics, how clearly it is a hit, and what becomes of it. Sorts and filters
/// them itself: six thousand rows change with every step of a threshold.
class HitsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { place, drum, level, mics, clear, state, columns };
    explicit HitsModel(Document& document, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    void sort(int column, Qt::SortOrder order) override;
    /// Only rows that hold these words, in whatever column.
    void setFilter(const QString& words);
    void refresh();

    HitIndex hitAt(int row) const { return rows_[static_cast<std::size_t>(row)]; }
    std::optional<int> rowOf(HitIndex hit) const;

private:
    QString text(HitIndex hit, int column) const;
    bool shows(HitIndex hit) const;
    std::vector<HitIndex> arranged() const;
    bool before(HitIndex a, HitIndex b) const;

    Document& document_;
    std::vector<HitIndex> rows_; ///< row to hit
    QString filter_;
    int sortedBy_ = place;
    Qt::SortOrder order_ = Qt::AscendingOrder;
};

/// The table beside the picture: sortable by every column, filtered by words and by drum; what is chosen in it is
/// chosen on the sheet and the other way round.
class HitsTable : public QWidget {
    Q_OBJECT
public:
    explicit HitsTable(Document& document, QWidget* parent = nullptr);

    void refresh();
    /// Follows the sheet.
    void showChosen(const std::vector<HitIndex>& hits);

signals:
    /// Chosen here; `current` is the row that keys speak of.
    void chosen(const std::vector<HitIndex>& hits, HitIndex current);

private:
    void tell();

    HitsModel* model_;
    QTableView* view_;
    QLineEdit* filter_;
    std::vector<HitIndex> chosen_;
    bool following_ = false;
};

} // namespace lampo
