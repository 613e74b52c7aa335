#include "stops/repairs/strokes_page.h"

#include "look/number.h"
#include "map/musical_map.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QPushButton>

#include <cmath>

namespace lampo {
namespace {

class DonorsModel : public ChoiceModel {
public:
    enum Column { rank, take, place, level, alone };
    DonorsModel(Document& document, const std::vector<Donor>& donors)
        : ChoiceModel(columns()), document_(document), donors_(donors) {}

protected:
    std::size_t count() const override { return donors_.size(); }
    QString text(std::size_t item, int column) const override {
        const Donor& donor = donors_[item];
        const Session& session = document_.session();
        switch (column) {
        case rank:
            return QString::number(item + 1);
        case take:
            return QString(QLatin1Char(donor.at.take.value));
        case place: {
            const Take& of = session.takes[*session.takeLettered(donor.at.take)];
            const BarBeat at = MusicalMap(session.map, session.rate).barBeat(donor.at.at + of.shift());
            return QStringLiteral("%1 : %2").arg(at.bar).arg(at.beat, 0, 'f', 2);
        }
        case level:
            return number(donor.level.value, 1);
        default: {
            const double ms = toMilliseconds(std::min(donor.alone, donor.before), session.rate).value;
            return ms > 999 ? StrokesPage::tr("over 1 s") : StrokesPage::tr("%1 ms").arg(number(ms, 0));
        }
        }
    }
    bool before(std::size_t a, std::size_t b, int column) const override {
        const Donor &one = donors_[a], &other = donors_[b];
        if (column == level)
            return one.level < other.level;
        if (column == alone)
            return std::min(one.alone, one.before) < std::min(other.alone, other.before);
        if (column == rank)
            return a < b;
        return std::pair(one.at.take, one.at.at) < std::pair(other.at.take, other.at.at);
    }

private:
    static std::vector<ChoiceModel::Column> columns() {
        return {{StrokesPage::tr("Best"), StrokesPage::tr("The most alike in level and in what sounds around"), 5,
                 true},
                {StrokesPage::tr("Take"), StrokesPage::tr("Whose stroke it is"), 6},
                {StrokesPage::tr("Place"), StrokesPage::tr("Bar and beat where that take was played"), 10},
                {StrokesPage::tr("dB"), StrokesPage::tr("Against a strong stroke of the drum"), 8, true},
                {StrokesPage::tr("Alone"), StrokesPage::tr("How far the nearest other stroke lies"), 8, true}};
    }

    Document& document_;
    const std::vector<Donor>& donors_;
};

} // namespace

StrokesPage::StrokesPage(Document& document, SheetWidget& sheet, StrokeRepairs& repairs, MicChoice& mics,
                         QWidget* parent)
    : Panel(document, {}, parent), sheet_(sheet), repairs_(repairs) {
    addMics(mics);
    addDonors();
    addDonorButtons();
    addLevels();
    connect(&sheet_, &SheetWidget::hitSelected, this, [this] { refresh(); });
    refresh();
}

void StrokesPage::addMics(MicChoice& mics) {
    auto* row = new QHBoxLayout;
    row->addWidget(mics.button(QStringLiteral("Repair mics")), 1);
    auto* only = new QCheckBox(tr("edit these only"));
    only->setObjectName(QStringLiteral("Edit these mics only"));
    only->setToolTip(tr("Moves, removals and seams are for these mics only, until another hit or seam is chosen"));
    connect(only, &QCheckBox::clicked, &repairs_, &StrokeRepairs::setOnly);
    connect(&repairs_, &StrokeRepairs::onlyChanged, only, &QCheckBox::setChecked);
    row->addWidget(only);
    column()->addLayout(row);
}

void StrokesPage::addDonors() {
    note_ = addNote();
    note_->setObjectName(QStringLiteral("Donors note"));
    table_ = new ChoiceTable(new DonorsModel(document_, donors_), tr("Donors"));
    column()->addWidget(table_, 1);
    onChangeWhileVisible([this] { findDonors(); });
    connect(table_, &ChoiceTable::chosen, this, [this](const auto&, std::size_t current) {
        repairs_.replaceBy(Donor(donors_[current]));
        if (each_->isChecked())
            hear();
    });
}

/// They are sought anew only where the hits, what was heard in any take, or the choice are others.
void StrokesPage::findDonors() {
    const auto outcome = document_.sharedOutcome();
    const auto hit = sheet_.state().selected;
    const bool known =
        donorsOf_ && donorsFor_ == hit && donorsOf_->takes == outcome->takes && donorsOf_->hits == outcome->hits;
    donorsOf_ = outcome;
    donorsFor_ = hit;
    if (!known) {
        const auto found = repairs_.donors();
        donors_ = found.value_or(std::vector<Donor>{});
        note_->setText(found ? repairs_.kept().append(QLatin1Char('.'))
                             : tr("Choose a stroke: here are those that may stand for it."));
        table_->refresh();
    }
    const auto used = repairs_.donorInUse(donors_);
    table_->showChosen(used ? std::vector{*used} : std::vector<std::size_t>{});
}

void StrokesPage::addDonorButtons() {
    auto* row = new QHBoxLayout;
    auto* level = new QComboBox;
    level->setObjectName(QStringLiteral("Donor level"));
    level->setAccessibleName(tr("How loud a donor is made"));
    level->addItems({tr("as its neighbours"), tr("as the old one"), tr("as recorded")});
    connect(level, &QComboBox::activated, &repairs_,
            [this](int index) { repairs_.setDonorLevel(static_cast<DonorLevel>(index)); });
    row->addWidget(level, 1);
    auto* hearIt = new QPushButton(tr("Hear it"));
    hearIt->setObjectName(QStringLiteral("Hear donor"));
    hearIt->setToolTip(tr("The stroke in its place, with a second before it"));
    connect(hearIt, &QPushButton::clicked, this, &StrokesPage::hear);
    row->addWidget(hearIt);
    each_ = new QCheckBox(tr("each one"));
    each_->setObjectName(QStringLiteral("Hear each donor"));
    each_->setToolTip(tr("Play every donor in its place as it is chosen"));
    row->addWidget(each_);
    column()->addLayout(row);
}

void StrokesPage::addLevels() {
    auto* row = new QHBoxLayout;
    auto* button = new QPushButton(tr("Level"));
    button->setObjectName(QStringLiteral("Level strokes"));
    button->setToolTip(
        tr("The chosen strokes, so much of the way to the median of their drum or to a value; in the "
           "plot each can be dragged"));
    amount_ = makeField(numberOf(tr("Level amount"), limits::strength));
    amount_->setValue(limits::strength.defaultValue);
    toTarget_ = new QCheckBox(tr("to"));
    toTarget_->setObjectName(QStringLiteral("Level to a value"));
    toTarget_->setToolTip(tr("To a value against the drum's strong strokes, instead of the chosen ones' median"));
    target_ = makeField(numberOf(tr("Level target"), limits::strokeLevel, 1));
    target_->setValue(limits::strokeLevel.defaultValue);
    target_->setEnabled(false);
    connect(toTarget_, &QCheckBox::toggled, target_, &QWidget::setEnabled);
    connect(button, &QPushButton::clicked, this, [this] {
        repairs_.level(amount_->value(),
                       toTarget_->isChecked() ? std::optional(Decibels{target_->value()}) : std::nullopt);
    });
    row->addWidget(button);
    row->addWidget(amount_, 1);
    row->addWidget(toTarget_);
    row->addWidget(target_, 1);
    column()->addLayout(row);
}

void StrokesPage::hear() {
    if (const auto stretch = repairs_.around())
        emit stretchWanted(*stretch);
}

void StrokesPage::showEvent(QShowEvent* event) {
    Panel::showEvent(event);
    sheet_.setPlotsLevels(true);
}

void StrokesPage::hideEvent(QHideEvent* event) {
    Panel::hideEvent(event);
    sheet_.setPlotsLevels(false);
}

} // namespace lampo
