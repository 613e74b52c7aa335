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

void HitsModel::refresh() {
    const int now = static_cast<int>(document_.outcome().landings.size());
    if (now == rows_) {
        if (now > 0)
            emit dataChanged(index(0, 0), index(now - 1, columns - 1));
        return;
    }
    beginResetModel();
    rows_ = now;
    endResetModel();
}

int HitsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : rows_;
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
    const auto hit = static_cast<std::size_t>(index.row());
    if (!index.isValid() || hit >= document_.outcome().landings.size())
        return {};
    if (role == Qt::DisplayRole)
        return text(hit, index.column());
    if (role == sortRole)
        return sortKey(hit, index.column());
    if (role == Qt::TextAlignmentRole && (index.column() == level || index.column() == clear))
        return QVariant(Qt::AlignRight | Qt::AlignVCenter);
    return {};
}

QString HitsModel::text(std::size_t hit, int column) const {
    const Hit& found = document_.outcome().found.hits[hit];
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
        return found.heardBy == 0 ? QString() : number(found.level.value, 1);
    case mics: {
        QStringList names;
        for (std::size_t mic = 0; mic < session.mics.size(); ++mic)
            if (found.heardBy & onlyMic(mic)) {
                const QString shown = QString::fromStdString(session.mics[mic].shownName());
                mic == found.mic ? names.prepend(shown) : names.append(shown);
            }
        return names.join(QStringLiteral(", "));
    }
    case clear:
        return found.heardBy == 0 ? QString() : number(found.clear.value, 1);
    default:
        return QString::fromLatin1(name(landing.state).data()) + (found.added ? tr(", added") : QString());
    }
}

QVariant HitsModel::sortKey(std::size_t hit, int column) const {
    const Hit& found = document_.outcome().found.hits[hit];
    switch (column) {
    case place:
        return QVariant::fromValue(static_cast<qlonglong>(document_.outcome().landings[hit].played.frame));
    case level:
        return found.level.value;
    case clear:
        return found.clear.value;
    case mics:
        return QStringLiteral("%1 %2").arg(std::popcount(found.heardBy)).arg(text(hit, mics));
    default:
        return text(hit, column);
    }
}

HitsTable::HitsTable(Document& document, QWidget* parent)
    : QWidget(parent), model_(new HitsModel(document, this)), sorted_(new QSortFilterProxyModel(this)),
      view_(new QTableView), filter_(new QLineEdit) {
    sorted_->setSourceModel(model_);
    sorted_->setSortRole(HitsModel::sortRole);
    sorted_->setFilterKeyColumn(-1);
    sorted_->setFilterCaseSensitivity(Qt::CaseInsensitive);
    sorted_->setDynamicSortFilter(true);
    view_->setModel(sorted_);
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
    connect(filter_, &QLineEdit::textChanged, sorted_, &QSortFilterProxyModel::setFilterFixedString);
    connect(view_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] { tell(); });
}

void HitsTable::refresh() {
    following_ = true;
    model_->refresh();
    following_ = false;
}

void HitsTable::tell() {
    if (following_)
        return;
    std::vector<std::size_t> hits;
    for (const QModelIndex& row : view_->selectionModel()->selectedRows())
        hits.push_back(static_cast<std::size_t>(sorted_->mapToSource(row).row()));
    const QModelIndex current = sorted_->mapToSource(view_->currentIndex());
    if (!hits.empty())
        emit chosen(hits, std::find(hits.begin(), hits.end(), current.row()) != hits.end()
                              ? static_cast<std::size_t>(current.row())
                              : hits.front());
}

void HitsTable::showChosen(const std::vector<std::size_t>& hits) {
    following_ = true;
    QItemSelection rows;
    QModelIndex last;
    for (const std::size_t hit : hits)
        if (const QModelIndex row = sorted_->mapFromSource(model_->index(static_cast<int>(hit), 0));
            row.isValid()) {
            rows.select(row, row);
            last = row;
        }
    view_->selectionModel()->select(rows, QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
    if (last.isValid() && isVisible())
        view_->scrollTo(last);
    following_ = false;
}

} // namespace lampo
