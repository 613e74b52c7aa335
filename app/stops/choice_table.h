#pragma once

#include <QAbstractTableModel>
#include <QWidget>

#include <optional>
#include <vector>

class QTableView;
class QVBoxLayout;

namespace lampo {

/// Things of the edit as rows, in the order of their numbers or sorted by a column. Sorts and filters them itself:
/// six thousand rows change with every step of a slider.
class ChoiceModel : public QAbstractTableModel {
    Q_OBJECT
public:
    struct Column {
        QString head;
        QString tip;
        int letters = 8;       ///< wide
        bool isNumber = false; ///< stands at the right
    };
    explicit ChoiceModel(std::vector<Column> columns, QObject* parent = nullptr);

    const std::vector<Column>& heads() const { return columns_; }
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    QVariant headerData(int section, Qt::Orientation orientation, int role) const override;
    void sort(int column, Qt::SortOrder order) override;
    /// Only rows that hold these words, in whatever column.
    void setFilter(const QString& words);
    /// After the things have changed.
    void refresh();

    std::size_t itemAt(int row) const { return rows_[static_cast<std::size_t>(row)]; }
    std::optional<int> rowOf(std::size_t item) const;

protected:
    /// How many there are now.
    virtual std::size_t count() const = 0;
    virtual QString text(std::size_t item, int column) const = 0;
    /// Whether things are numbered in the order of the first column, so that it need not be sorted by.
    virtual bool isNumberedInOrder() const { return true; }
    /// Whether one comes before another where the column sorts.
    virtual bool before(std::size_t a, std::size_t b, int column) const = 0;

private:
    bool shows(std::size_t item) const;
    bool sorts() const { return sortedBy_ != 0 || !isNumberedInOrder(); }
    std::vector<std::size_t> arranged() const;

    std::vector<Column> columns_;
    std::vector<std::size_t> rows_; ///< row to item
    QString filter_;
    int sortedBy_ = 0;
    Qt::SortOrder order_ = Qt::AscendingOrder;
};

/// A table beside the picture: what is chosen in it is chosen on the sheet and the other way round.
class ChoiceTable : public QWidget {
    Q_OBJECT
public:
    /// Takes the model over; `name` is what it shows, "Hits".
    ChoiceTable(ChoiceModel* model, const QString& name, QWidget* parent = nullptr);

    void refresh();
    void setFilter(const QString& words);
    /// Follows the sheet.
    void showChosen(const std::vector<std::size_t>& items);

signals:
    /// Chosen here; `current` is the row that keys speak of.
    void chosen(const std::vector<std::size_t>& items, std::size_t current);

private:
    void tell();

    ChoiceModel* model_;
    QTableView* view_;
    std::vector<std::size_t> chosen_;
    bool following_ = false;
};

} // namespace lampo
