#include "stops/seams/seams_table.h"

#include "look/number.h"
#include "map/musical_map.h"
#include "sheet/sheet_words.h"

#include <QVBoxLayout>

#include <tuple>

namespace lampo {
namespace {

class SeamsModel : public ChoiceModel {
public:
    enum Column { place, kind, length, dip, ring, by };
    explicit SeamsModel(Document& document) : ChoiceModel(columns()), document_(document) {}

protected:
    std::size_t count() const override { return seams().size(); }
    QString text(std::size_t item, int column) const override;
    bool before(std::size_t a, std::size_t b, int column) const override;

private:
    const std::vector<Seam>& seams() const { return document_.outcome().plan->seams; }
    static std::vector<ChoiceModel::Column> columns() {
        return {{SeamsTable::tr("Place"), SeamsTable::tr("Bar and beat of its end"), 10},
                {SeamsTable::tr("Kind"),
                 SeamsTable::tr("What meets there; how many times its length a tail becomes, "
                                "or how much of one sounds again"),
                 12},
                {SeamsTable::tr("ms"), SeamsTable::tr("Length of the fade"), 5, true},
                {SeamsTable::tr("Dip"), SeamsTable::tr("How far some mic falls there under the quieter side, dB"),
                 5, true},
                {SeamsTable::tr("Ring"), SeamsTable::tr("How far what rings in the overheads jumps there, dB"), 5,
                 true},
                {SeamsTable::tr("By"), SeamsTable::tr("What decided its place"), 6}};
    }

    Document& document_;
};

bool SeamsModel::before(std::size_t a, std::size_t b, int column) const {
    const Seam& one = seams()[a];
    const Seam& other = seams()[b];
    switch (column) {
    case kind:
        return std::tuple(one.kind, one.stretch, one.again) < std::tuple(other.kind, other.stretch, other.again);
    case length:
        return one.range.length() < other.range.length();
    case dip:
        return one.dip < other.dip;
    case ring:
        return one.ring < other.ring;
    case by:
        return one.by < other.by;
    default:
        return a < b;
    }
}

QString SeamsModel::text(std::size_t item, int column) const {
    const Seam& seam = seams()[item];
    const Session& session = document_.session();
    switch (column) {
    case place: {
        const BarBeat at = MusicalMap(session.map, session.rate).barBeat(asSong(seam.range.end));
        return QStringLiteral("%1 : %2").arg(at.bar).arg(at.beat, 0, 'f', 2);
    }
    case kind:
        return wordsFor(seam, session.rate);
    case length:
        return number(toMilliseconds(seam.range.length(), session.rate).value, 1);
    case dip:
        return seam.by == PlacedBy::search ? number(seam.dip, 1) : QString();
    case ring:
        return seam.by == PlacedBy::search ? number(seam.ring, 1) : QString();
    default:
        return wordsFor(seam.by);
    }
}

} // namespace

SeamsTable::SeamsTable(Document& document, QWidget* parent)
    : QWidget(parent), table_(new ChoiceTable(new SeamsModel(document), tr("Seams"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(table_, 1);
    connect(table_, &ChoiceTable::chosen, this, [this](const std::vector<std::size_t>& items, std::size_t current) {
        std::vector<SeamIndex> seams;
        for (const std::size_t item : items)
            seams.push_back({item});
        emit chosen(seams, {current});
    });
}

void SeamsTable::showChosen(const std::vector<SeamIndex>& seams) {
    table_->showChosen({seams.begin(), seams.end()});
}

} // namespace lampo
