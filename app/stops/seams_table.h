#pragma once

#include "document/document.h"

#include <QAbstractTableModel>
#include <QWidget>

class QTableView;

namespace lampo {

/// All seams as rows: place, kind, length, how far they dip, what placed them. Sorts them itself.
class SeamsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { place, kind, length, dip, by, columns };
    explicit SeamsModel(Document& document, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    void sort(int column, Qt::SortOrder order) override;
    void refresh();

    SeamIndex seamAt(int row) const { return rows_[static_cast<std::size_t>(row)]; }
    std::optional<int> rowOf(SeamIndex seam) const;

private:
    const std::vector<Seam>& seams() const { return document_.outcome().plan->seams; }
    QString text(const Seam& seam, int column) const;
    std::vector<SeamIndex> arranged() const;

    Document& document_;
    std::vector<SeamIndex> rows_; ///< row to seam
    int sortedBy_ = place;
    Qt::SortOrder order_ = Qt::AscendingOrder;
};

/// The table beside the picture; what is chosen in it is chosen on the sheet and the other way round.
class SeamsTable : public QWidget {
    Q_OBJECT
public:
    explicit SeamsTable(Document& document, QWidget* parent = nullptr);

    void refresh();
    /// Follows the sheet.
    void showChosen(const std::vector<SeamIndex>& seams);

signals:
    /// Chosen here; `current` is the row that keys speak of.
    void chosen(const std::vector<SeamIndex>& seams, SeamIndex current);

private:
    void tell();

    SeamsModel* model_;
    QTableView* view_;
    std::vector<SeamIndex> chosen_;
    bool following_ = false;
};

} // namespace lampo
