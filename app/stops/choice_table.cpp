#include "stops/choice_table.h"

#include "look/ink.h"

#include <QHeaderView>
#include <QTableView>
#include <QVBoxLayout>

#include <algorithm>

namespace lampo {

ChoiceModel::ChoiceModel(std::vector<Column> columns, QObject* parent)
    : QAbstractTableModel(parent), columns_(std::move(columns)) {}

std::vector<std::size_t> ChoiceModel::arranged() const {
    std::vector<std::size_t> rows;
    for (std::size_t item = 0; item < count(); ++item)
        if (shows(item))
            rows.push_back(item);
    if (sorts())
        std::stable_sort(rows.begin(), rows.end(),
                         [this](std::size_t a, std::size_t b) { return before(a, b, sortedBy_); });
    if (order_ == Qt::DescendingOrder)
        std::reverse(rows.begin(), rows.end());
    return rows;
}

/// Rows come and go at the end, whatever they show then, so that the view keeps its heads and its place; the table
/// chooses its rows anew.
void ChoiceModel::refresh() {
    std::vector<std::size_t> rows = arranged();
    const int was = rowCount({}), is = static_cast<int>(rows.size());
    if (is > was)
        beginInsertRows({}, was, is - 1);
    else if (is < was)
        beginRemoveRows({}, is, was - 1);
    rows_ = std::move(rows);
    if (is > was)
        endInsertRows();
    else if (is < was)
        endRemoveRows();
    if (is > 0)
        emit dataChanged(index(0, 0), index(is - 1, columnCount() - 1));
}

void ChoiceModel::sort(int column, Qt::SortOrder order) {
    sortedBy_ = column;
    order_ = order;
    beginResetModel();
    rows_ = arranged();
    endResetModel();
}

void ChoiceModel::setFilter(const QString& words) {
    filter_ = words.trimmed();
    refresh();
}

bool ChoiceModel::shows(std::size_t item) const {
    for (int column = 0; !filter_.isEmpty() && column < columnCount(); ++column)
        if (text(item, column).contains(filter_, Qt::CaseInsensitive))
            return true;
    return filter_.isEmpty();
}

std::optional<int> ChoiceModel::rowOf(std::size_t item) const {
    const bool inOrder = !sorts() && order_ == Qt::AscendingOrder;
    const auto row =
        inOrder ? std::lower_bound(rows_.begin(), rows_.end(), item) : std::find(rows_.begin(), rows_.end(), item);
    if (row == rows_.end() || *row != item)
        return std::nullopt;
    return static_cast<int>(row - rows_.begin());
}

int ChoiceModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int ChoiceModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(columns_.size());
}

QVariant ChoiceModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical || section < 0 || section >= columnCount())
        return {};
    const Column& column = columns_[static_cast<std::size_t>(section)];
    if (role == Qt::DisplayRole)
        return column.head;
    return role == Qt::ToolTipRole ? QVariant(column.tip) : QVariant();
}

QVariant ChoiceModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount() || itemAt(index.row()) >= count())
        return {};
    if (role == Qt::DisplayRole)
        return text(itemAt(index.row()), index.column());
    if (role == Qt::TextAlignmentRole && columns_[static_cast<std::size_t>(index.column())].isNumber)
        return {Qt::AlignRight | Qt::AlignVCenter};
    return {};
}

ChoiceTable::ChoiceTable(ChoiceModel* model, const QString& name, QWidget* parent)
    : QWidget(parent), model_(model), view_(new QTableView) {
    model_->setParent(this);
    view_->setModel(model_);
    view_->setSortingEnabled(true);
    view_->sortByColumn(0, Qt::AscendingOrder);
    view_->setSelectionBehavior(QAbstractItemView::SelectRows);
    view_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    view_->setWordWrap(false);
    view_->setShowGrid(false);
    view_->setFont(textFont(0.88));
    view_->verticalHeader()->hide();
    view_->verticalHeader()->setDefaultSectionSize(QFontMetrics(textFont(0.88)).height() + 2);
    view_->horizontalHeader()->setFont(textFont(0.85));
    view_->horizontalHeader()->setHighlightSections(false);
    view_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    const int letter = QFontMetrics(textFont(0.88)).averageCharWidth();
    for (int column = 0; column < model_->columnCount(); ++column)
        view_->setColumnWidth(column, letter * model_->heads()[static_cast<std::size_t>(column)].letters);
    view_->horizontalHeader()->setStretchLastSection(true);
    view_->setAccessibleName(name);
    view_->setObjectName(tr("%1 table").arg(name));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(view_, 1);
    connect(view_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { tell(); });
}

void ChoiceTable::refresh() {
    following_ = true;
    model_->refresh();
    following_ = false;
    showChosen(chosen_);
}

void ChoiceTable::setFilter(const QString& words) {
    following_ = true;
    model_->setFilter(words);
    following_ = false;
    showChosen(chosen_);
}

void ChoiceTable::tell() {
    if (following_)
        return;
    chosen_.clear();
    for (const QModelIndex& row : view_->selectionModel()->selectedRows())
        chosen_.push_back(model_->itemAt(row.row()));
    if (chosen_.empty())
        return;
    const QModelIndex current = view_->currentIndex();
    const bool isChosen = current.isValid() && view_->selectionModel()->isRowSelected(current.row());
    emit chosen(std::vector(chosen_), isChosen ? model_->itemAt(current.row()) : chosen_.front());
}

void ChoiceTable::showChosen(const std::vector<std::size_t>& items) {
    following_ = true;
    if (&items != &chosen_)
        chosen_ = items;
    QItemSelection rows;
    QModelIndex last;
    for (const std::size_t item : chosen_)
        if (const auto row = model_->rowOf(item)) {
            last = model_->index(*row, 0);
            rows.select(last, last);
        }
    view_->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
    if (last.isValid() && isVisible())
        view_->scrollTo(last);
    following_ = false;
}

} // namespace lampo
