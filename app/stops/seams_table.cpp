#include "stops/seams_table.h"

#include "look/ink.h"
#include "look/number.h"
#include "map/musical_map.h"

#include <QHeaderView>
#include <QTableView>
#include <QVBoxLayout>

#include <algorithm>

namespace lampo {

SeamsModel::SeamsModel(Document& document, QObject* parent) : QAbstractTableModel(parent), document_(document) {}

std::vector<SeamIndex> SeamsModel::arranged() const {
    std::vector<SeamIndex> rows;
    for (SeamIndex seam; seam < seams().size(); ++seam)
        rows.push_back(seam);
    const auto sortBy = [&](auto&& key) {
        std::stable_sort(rows.begin(), rows.end(),
                         [&](SeamIndex a, SeamIndex b) { return key(seams()[a]) < key(seams()[b]); });
    };
    switch (sortedBy_) {
    case kind:
        sortBy([](const Seam& seam) { return seam.kind; });
        break;
    case length:
        sortBy([](const Seam& seam) { return seam.range.length(); });
        break;
    case dip:
        sortBy([](const Seam& seam) { return seam.dip; });
        break;
    case by:
        sortBy([](const Seam& seam) { return seam.by; });
        break;
    default:
        break; // seams are in order of time as they are
    }
    if (order_ == Qt::DescendingOrder)
        std::reverse(rows.begin(), rows.end());
    return rows;
}

/// Rows come and go at the end, whatever they show then, so that the view keeps its heads and its place.
void SeamsModel::refresh() {
    std::vector<SeamIndex> rows = arranged();
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
        emit dataChanged(index(0, 0), index(is - 1, columns - 1));
}

void SeamsModel::sort(int column, Qt::SortOrder order) {
    sortedBy_ = column;
    order_ = order;
    beginResetModel();
    rows_ = arranged();
    endResetModel();
}

std::optional<int> SeamsModel::rowOf(SeamIndex seam) const {
    const auto row = std::find(rows_.begin(), rows_.end(), seam);
    return row == rows_.end() ? std::nullopt : std::optional(static_cast<int>(row - rows_.begin()));
}

int SeamsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int SeamsModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : columns;
}

QVariant SeamsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical || section < 0 || section >= columns)
        return {};
    const QStringList heads{tr("Place"), tr("Kind"), tr("ms"), tr("Dip"), tr("Placed")};
    const QStringList tips{tr("Bar and beat of its end"), tr("What meets there"), tr("Length of the fade"),
                           tr("How far some mic falls there under the quieter side, dB"),
                           tr("What decided its place")};
    if (role == Qt::DisplayRole)
        return heads[section];
    return role == Qt::ToolTipRole ? QVariant(tips[section]) : QVariant();
}

QVariant SeamsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount() || seamAt(index.row()) >= seams().size())
        return {};
    if (role == Qt::DisplayRole)
        return text(seams()[seamAt(index.row())], index.column());
    if (role == Qt::TextAlignmentRole && (index.column() == length || index.column() == dip))
        return {Qt::AlignRight | Qt::AlignVCenter};
    return {};
}

QString SeamsModel::text(const Seam& seam, int column) const {
    const Session& session = document_.session();
    switch (column) {
    case place: {
        const BarBeat at = MusicalMap(session.map, session.rate).barBeat(asSong(seam.range.end));
        return QStringLiteral("%1 : %2").arg(at.bar).arg(at.beat, 0, 'f', 2);
    }
    case kind:
        return QString::fromLatin1(name(seam.kind).data());
    case length:
        return number(toMilliseconds(seam.range.length(), session.rate).value, 1);
    case dip:
        return seam.by == PlacedBy::search ? number(seam.dip, 1) : QString();
    default:
        return seam.by == PlacedBy::rule     ? tr("by rule")
               : seam.by == PlacedBy::search ? tr("by ear")
                                             : tr("by hand");
    }
}

SeamsTable::SeamsTable(Document& document, QWidget* parent)
    : QWidget(parent), model_(new SeamsModel(document, this)), view_(new QTableView) {
    view_->setModel(model_);
    view_->setSortingEnabled(true);
    view_->sortByColumn(SeamsModel::place, Qt::AscendingOrder);
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
    const std::array widths{10, 10, 7, 7, 8};
    for (int column = 0; column < SeamsModel::columns; ++column)
        view_->setColumnWidth(column, letter * widths[static_cast<std::size_t>(column)]);
    view_->horizontalHeader()->setStretchLastSection(true);
    view_->setAccessibleName(tr("Seams"));
    view_->setObjectName(QStringLiteral("Seams table"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(view_, 1);
    connect(view_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { tell(); });
}

void SeamsTable::refresh() {
    following_ = true;
    model_->refresh();
    following_ = false;
    showChosen(chosen_);
}

void SeamsTable::tell() {
    if (following_)
        return;
    chosen_.clear();
    for (const QModelIndex& row : view_->selectionModel()->selectedRows())
        chosen_.push_back(model_->seamAt(row.row()));
    if (chosen_.empty())
        return;
    const QModelIndex current = view_->currentIndex();
    const bool isChosen = current.isValid() && view_->selectionModel()->isRowSelected(current.row());
    emit chosen(std::vector(chosen_), isChosen ? model_->seamAt(current.row()) : chosen_.front());
}

void SeamsTable::showChosen(const std::vector<SeamIndex>& seams) {
    following_ = true;
    if (&seams != &chosen_)
        chosen_ = seams;
    QItemSelection rows;
    QModelIndex last;
    for (const SeamIndex seam : chosen_)
        if (const auto row = model_->rowOf(seam)) {
            last = model_->index(*row, 0);
            rows.select(last, last);
        }
    view_->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
    if (last.isValid() && isVisible())
        view_->scrollTo(last);
    following_ = false;
}

} // namespace lampo
