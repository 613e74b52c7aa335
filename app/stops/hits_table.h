#pragma once

#include "document/document.h"

#include <QAbstractTableModel>
#include <QSortFilterProxyModel>
#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QTableView;

namespace lampo {

/// All hits as rows: place, drum, level, mics, how clearly it is a hit, and what becomes of it.
class HitsModel : public QAbstractTableModel {
    Q_OBJECT
public:
    enum Column { place, drum, level, mics, clear, state, columns };
    static constexpr int sortRole = Qt::UserRole;

    explicit HitsModel(Document& document, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    void refresh();

private:
    QString text(std::size_t hit, int column) const;
    QVariant sortKey(std::size_t hit, int column) const;

    Document& document_;
    int rows_ = 0;
};

/// The table beside the picture: sortable by every column, filtered by words and by drum; what is chosen in it is
/// chosen on the sheet and the other way round.
class HitsTable : public QWidget {
    Q_OBJECT
public:
    explicit HitsTable(Document& document, QWidget* parent = nullptr);

    void refresh();
    /// Follows the sheet.
    void showChosen(const std::vector<std::size_t>& hits);

signals:
    /// Chosen here; `current` is the row that keys speak of.
    void chosen(const std::vector<std::size_t>& hits, std::size_t current);

private:
    void tell();

    HitsModel* model_;
    QSortFilterProxyModel* sorted_;
    QTableView* view_;
    QLineEdit* filter_;
    bool following_ = false;
};

} // namespace lampo
