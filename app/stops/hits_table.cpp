#include "stops/hits_table.h"

#include "look/ink.h"
#include "map/musical_map.h"
#include "stops/panel.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QTableView>
#include <QVBoxLayout>

#include <algorithm>
#include <bit>

namespace lampo {

HitsModel::HitsModel(Document& document, QObject* parent) : QAbstractTableModel(parent), document_(document) {}

std::vector<HitIndex> HitsModel::arranged() const {
    std::vector<HitIndex> rows;
    for (HitIndex hit; hit < document_.outcome().landings.size(); ++hit)
        if (shows(hit))
            rows.push_back(hit);
    if (sortedBy_ != place) // hits are in order of time as they are
        std::stable_sort(rows.begin(), rows.end(), [this](HitIndex a, HitIndex b) { return before(a, b); });
    if (order_ == Qt::DescendingOrder)
        std::reverse(rows.begin(), rows.end());
    return rows;
}

/// Rows come and go at the end, whatever they show then, so that the view keeps its heads and its place; the table
/// chooses its rows anew.
void HitsModel::refresh() {
    std::vector<HitIndex> rows = arranged();
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

void HitsModel::sort(int column, Qt::SortOrder order) {
    sortedBy_ = column;
    order_ = order;
    beginResetModel();
    rows_ = arranged();
    endResetModel();
}

void HitsModel::setFilter(const QString& words) {
    filter_ = words.trimmed();
    refresh();
}

bool HitsModel::shows(HitIndex hit) const {
    for (int column = 0; !filter_.isEmpty() && column < columns; ++column)
        if (text(hit, column).contains(filter_, Qt::CaseInsensitive))
            return true;
    return filter_.isEmpty();
}

bool HitsModel::before(HitIndex a, HitIndex b) const {
    const Hit& one = document_.outcome().hits[a];
    const Hit& other = document_.outcome().hits[b];
    switch (sortedBy_) {
    case drum:
        return one.voice < other.voice;
    case level:
        return one.level < other.level;
    case mics:
        return std::pair(one.mic, one.detectedBy) < std::pair(other.mic, other.detectedBy);
    case clear:
        return one.aboveThreshold < other.aboveThreshold;
    case state:
        return document_.outcome().landings[a].state < document_.outcome().landings[b].state;
    default:
        return a < b;
    }
}

std::optional<int> HitsModel::rowOf(HitIndex hit) const {
    const auto inOrder = sortedBy_ == place && order_ == Qt::AscendingOrder;
    const auto row =
        inOrder ? std::lower_bound(rows_.begin(), rows_.end(), hit) : std::find(rows_.begin(), rows_.end(), hit);
    if (row == rows_.end() || *row != hit)
        return std::nullopt;
    return static_cast<int>(row - rows_.begin());
}

int HitsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

int HitsModel::columnCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : columns;
}

QVariant HitsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (orientation == Qt::Vertical || section < 0 || section >= columns)
        return {};
    const QStringList heads{tr("Place"), tr("Drum"), tr("dB"), tr("Mics"), tr("Clear"), tr("State")};
    const QStringList tips{tr("Bar and beat as played"),
                           tr("The drum it is a stroke of"),
                           tr("Level against that mic's typical strong hit"),
                           tr("The guides that heard it, the anchor's first"),
                           tr("How far above its threshold, dB"),
                           tr("What becomes of it")};
    if (role == Qt::DisplayRole)
        return heads[section];
    return role == Qt::ToolTipRole ? QVariant(tips[section]) : QVariant();
}

QVariant HitsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount() || hitAt(index.row()) >= document_.outcome().landings.size())
        return {};
    const HitIndex hit = hitAt(index.row());
    if (role == Qt::DisplayRole)
        return text(hit, index.column());
    if (role == Qt::TextAlignmentRole && (index.column() == level || index.column() == clear))
        return {Qt::AlignRight | Qt::AlignVCenter};
    return {};
}

QString HitsModel::text(HitIndex hit, int column) const {
    const Hit& found = document_.outcome().hits[hit];
    const Landing& landing = document_.outcome().landings[hit];
    const Session& session = document_.session();
    switch (column) {
    case place: {
        const BarBeat at = MusicalMap(session.map, session.rate).barBeat(landing.played);
        return QStringLiteral("%1 : %2").arg(at.bar).arg(at.beat, 0, 'f', 2);
    }
    case drum:
        return found.bare ? tr("(cut)") : QString::fromLatin1(name(found.voice).data());
    case level:
        return found.detectedBy == 0 ? QString() : number(found.level.value, 1);
    case mics: {
        QStringList names;
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            if (found.detectedBy & onlyMic(mic)) {
                const QString shown = QString::fromStdString(session.mics[mic].shownName());
                mic == found.mic ? names.prepend(shown) : names.append(shown);
            }
        return names.join(QStringLiteral(", "));
    }
    case clear:
        return found.detectedBy == 0 ? QString() : number(found.aboveThreshold.value, 1);
    default:
        return QString::fromLatin1(name(landing.state).data()) + (found.added ? tr(", added") : QString());
    }
}

HitsTable::HitsTable(Document& document, QWidget* parent)
    : QWidget(parent), model_(new HitsModel(document, this)), view_(new QTableView), filter_(new QLineEdit) {
    view_->setModel(model_);
    view_->setSortingEnabled(true);
    view_->sortByColumn(HitsModel::place, Qt::AscendingOrder);
    view_->setSelectionBehavior(QAbstractItemView::SelectRows);
    view_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    view_->setWordWrap(false);
    view_->setShowGrid(false);
    view_->setFont(textFont(0.88));
    view_->verticalHeader()->hide();
    view_->verticalHeader()->setDefaultSectionSize(QFontMetrics(textFont(0.88)).height() + 2);
    view_->horizontalHeader()->setFont(textFont(0.85));
    view_->horizontalHeader()->setHighlightSections(false);
    const int letter = QFontMetrics(textFont(0.88)).averageCharWidth();
    const std::array widths{9, 7, 7, 15, 7, 8};
    view_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    for (int column = 0; column < HitsModel::columns; ++column)
        view_->setColumnWidth(column, letter * widths[static_cast<std::size_t>(column)]);
    view_->horizontalHeader()->setStretchLastSection(true);
    view_->setAccessibleName(tr("Hits"));
    view_->setObjectName(QStringLiteral("Hits table"));
    filter_->setPlaceholderText(tr("Show only… (a drum, a mic, a bar, doubtful)"));
    filter_->setAccessibleName(tr("Show only"));
    filter_->setObjectName(QStringLiteral("Hits filter"));
    filter_->setClearButtonEnabled(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(filter_);
    column->addWidget(view_, 1);
    connect(filter_, &QLineEdit::textChanged, this, [this](const QString& words) {
        following_ = true;
        model_->setFilter(words);
        following_ = false;
        showChosen(chosen_);
    });
    connect(view_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { tell(); });
}

void HitsTable::refresh() {
    following_ = true;
    model_->refresh();
    following_ = false;
    showChosen(chosen_);
}

void HitsTable::tell() {
    if (following_)
        return;
    chosen_.clear();
    for (const QModelIndex& row : view_->selectionModel()->selectedRows())
        chosen_.push_back(model_->hitAt(row.row()));
    if (chosen_.empty())
        return;
    const QModelIndex current = view_->currentIndex();
    const bool isChosen = current.isValid() && view_->selectionModel()->isRowSelected(current.row());
    emit chosen(std::vector(chosen_), isChosen ? model_->hitAt(current.row()) : chosen_.front());
}

void HitsTable::showChosen(const std::vector<HitIndex>& hits) {
    following_ = true;
    if (&hits != &chosen_)
        chosen_ = hits;
    QItemSelection rows;
    QModelIndex last;
    for (const HitIndex hit : chosen_)
        if (const auto row = model_->rowOf(hit)) {
            last = model_->index(*row, 0);
            rows.select(last, last);
        }
    view_->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
    if (last.isValid() && isVisible())
        view_->scrollTo(last);
    following_ = false;
}

} // namespace lampo
