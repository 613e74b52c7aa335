#include "stops/hits_table.h"

#include "map/musical_map.h"
#include "stops/panel.h"

#include <QLineEdit>
#include <QVBoxLayout>

namespace lampo {
namespace {

class HitsModel : public ChoiceModel {
public:
    enum Column { place, drum, level, mics, clear, state };
    explicit HitsModel(Document& document) : ChoiceModel(columns()), document_(document) {}

protected:
    std::size_t count() const override { return document_.outcome().landings.size(); }
    QString text(std::size_t item, int column) const override;
    bool before(std::size_t a, std::size_t b, int column) const override;

private:
    static std::vector<ChoiceModel::Column> columns() {
        return {{HitsTable::tr("Place"), HitsTable::tr("Bar and beat as played"), 9},
                {HitsTable::tr("Drum"), HitsTable::tr("The drum it is a stroke of"), 7},
                {HitsTable::tr("dB"), HitsTable::tr("Level against that mic's typical strong hit"), 7, true},
                {HitsTable::tr("Mics"), HitsTable::tr("The guides that heard it, the anchor's first"), 15},
                {HitsTable::tr("Clear"), HitsTable::tr("How far above its threshold, dB"), 7, true},
                {HitsTable::tr("State"), HitsTable::tr("What becomes of it"), 8}};
    }

    Document& document_;
};

bool HitsModel::before(std::size_t a, std::size_t b, int column) const {
    const Hit& one = document_.outcome().hits[a];
    const Hit& other = document_.outcome().hits[b];
    switch (column) {
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

QString HitsModel::text(std::size_t hit, int column) const {
    const Hit& found = document_.outcome().hits[hit];
    const Landing& landing = document_.outcome().landings[hit];
    const Session& session = document_.session();
    switch (column) {
    case place: {
        const BarBeat at = MusicalMap(session.map, session.rate).barBeat(landing.played);
        return QStringLiteral("%1 : %2").arg(at.bar).arg(at.beat, 0, 'f', 2);
    }
    case drum:
        return found.bare ? HitsTable::tr("(cut)") : QString::fromLatin1(name(found.voice).data());
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
        return QString::fromLatin1(name(landing.state).data()) +
               (found.added ? HitsTable::tr(", added") : QString());
    }
}

} // namespace

HitsTable::HitsTable(Document& document, QWidget* parent)
    : QWidget(parent), table_(new ChoiceTable(new HitsModel(document), tr("Hits"))) {
    auto* filter = new QLineEdit;
    filter->setPlaceholderText(tr("Show only… (a drum, a mic, a bar, doubtful)"));
    filter->setAccessibleName(tr("Show only"));
    filter->setObjectName(QStringLiteral("Hits filter"));
    filter->setClearButtonEnabled(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    column->addWidget(filter);
    column->addWidget(table_, 1);
    connect(filter, &QLineEdit::textChanged, table_, &ChoiceTable::setFilter);
    connect(table_, &ChoiceTable::chosen, this, [this](const std::vector<std::size_t>& items, std::size_t current) {
        std::vector<HitIndex> hits;
        for (const std::size_t item : items)
            hits.push_back({item});
        emit chosen(hits, {current});
    });
}

void HitsTable::showChosen(const std::vector<HitIndex>& hits) {
    table_->showChosen({hits.begin(), hits.end()});
}

} // namespace lampo
