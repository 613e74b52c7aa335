#include "stops/timing/hand_page.h"

#include "advice/map_advice.h"
#include "look/ink.h"
#include "look/names.h"
#include "map/place_text.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QSettings>

namespace lampo {
namespace {

enum NudgeUnit { samples, milliseconds, gridSteps };

QPushButton* button(QBoxLayout* row, const QString& text, const QString& tip, const char* name) {
    auto* made = new QPushButton(text);
    made->setToolTip(tip);
    made->setObjectName(QLatin1String(name));
    row->addWidget(made);
    return made;
}

} // namespace

HandPage::HandPage(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, {}, parent), sheet_(sheet) {
    who_ = new QLabel;
    who_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed); // never wider than the page
    who_->setObjectName(QStringLiteral("Chosen hits"));
    column()->addWidget(who_);
    addPlace();
    addNudges();
    addPhrase();
    addMoves();
    auto* row = new QHBoxLayout;
    connect(button(row, tr("Best shove"),
                   tr("Shoves the passage to where its drums fall as in the rest of the song"), "Best shove"),
            &QPushButton::clicked, this, &HandPage::fitShove);
    connect(button(row, tr("Clear by hand"), tr("Corrections, phrases, shoves and slips of the passage go"),
                   "Clear by hand"),
            &QPushButton::clicked, this, &HandPage::clear);
    column()->addLayout(row);
    connect(&sheet_, &SheetWidget::hitSelected, this, &HandPage::selectionChanged);
    onChange([this] { show(); });
    column()->addStretch(1);
    refresh();
}

void HandPage::addPlace() {
    auto* form = addForm();
    place_ = new QLineEdit;
    place_->setObjectName(QStringLiteral("Lands at"));
    place_->setAccessibleName(tr("Lands at"));
    place_->setToolTip(tr("Bar, beat and thousandths of a beat, as 12.3.250; or seconds, as 31.2s; "
                          "and milliseconds beside, as 12.3 +4ms"));
    form->addRow(tr("Lands at"), place_);
    connect(place_, &QLineEdit::returnPressed, this, &HandPage::typePlace);
    auto* row = new QHBoxLayout;
    connect(button(row, tr("‹ Line before"), tr("The chosen hits mean the line before theirs"), "Line before"),
            &QPushButton::clicked, this, [this] { send(-1); });
    connect(button(row, tr("Line after ›"), tr("The chosen hits mean the line after theirs"), "Line after"),
            &QPushButton::clicked, this, [this] { send(1); });
    column()->addLayout(row);
}

void HandPage::addNudges() {
    const QSettings settings;
    auto* row = new QHBoxLayout;
    amount_ = new QDoubleSpinBox;
    amount_->setObjectName(QStringLiteral("Nudge amount"));
    amount_->setAccessibleName(tr("Nudge by"));
    amount_->setRange(limits::nudge.low, limits::nudge.high);
    amount_->setDecimals(1);
    amount_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    amount_->setAlignment(Qt::AlignRight);
    amount_->setValue(settings.value(QLatin1String(names::nudgeAmount), limits::nudge.defaultValue).toDouble());
    unit_ = new QComboBox;
    unit_->setObjectName(QStringLiteral("Nudge unit"));
    unit_->setAccessibleName(tr("Unit of the nudge"));
    unit_->addItems({tr("samples"), tr("ms"), tr("steps")});
    unit_->setCurrentIndex(settings.value(QLatin1String(names::nudgeUnit), 0).toInt());
    row->addWidget(new QLabel(tr("Nudge")));
    row->addWidget(amount_, 1);
    row->addWidget(unit_);
    const QList<std::tuple<QString, QString, const char*, int>> directions{
        {QStringLiteral("‹"), tr("Earlier (Alt and left)"), "Nudge earlier", -1},
        {QStringLiteral("›"), tr("Later (Alt and right)"), "Nudge later", 1}};
    for (const auto& [text, tip, name, direction] : directions) {
        auto* step = button(row, text, tip, name);
        step->setFixedWidth(QFontMetrics(textFont()).height() * 3 / 2);
        connect(step, &QPushButton::clicked, this, [this, by = direction] { nudge(by); });
    }
    column()->addLayout(row);
    connect(amount_, &QDoubleSpinBox::valueChanged, this,
            [](double value) { QSettings().setValue(QLatin1String(names::nudgeAmount), value); });
    connect(unit_, &QComboBox::currentIndexChanged, this,
            [](int index) { QSettings().setValue(QLatin1String(names::nudgeUnit), index); });
}

void HandPage::addPhrase() {
    auto* row = new QHBoxLayout;
    auto* heading = new QLabel(tr("Phrase"));
    heading->setFont(textFont(1.0, true));
    row->addWidget(heading);
    row->addStretch(1);
    connect(button(row, tr("Make one"),
                   tr("The first and the last chosen hit land, the inner ones keep their "
                      "proportions"),
                   "Make phrase"),
            &QPushButton::clicked, this, &HandPage::makePhrase);
    deletePhrase_ = button(row, tr("Delete"), tr("Every hit of it lands by itself again"), "Delete phrase");
    connect(deletePhrase_, &QPushButton::clicked, this, [this] {
        const auto hit = sheet_.state().selected;
        if (const auto index = hit ? phraseAt(document_.session(), document_.outcome(), *hit) : std::nullopt)
            document_.perform(HandEdit{DeletePhrase{*index}});
    });
    column()->addLayout(row);
    const auto phrase = [this]() -> const Phrase* {
        const auto hit = sheet_.state().selected;
        const auto index = hit ? phraseAt(document_.session(), document_.outcome(), *hit) : std::nullopt;
        return index ? &document_.session().phrases[*index] : nullptr;
    };
    addNumber(
        addForm(), numberOf(tr("Eased by"), limits::ease),
        [=, this] {
            const Phrase* chosen = phrase();
            return chosen ? chosen->ease : ease_;
        },
        [=, this](double value) -> std::optional<Edit> {
            ease_ = value;
            if (!phrase())
                return std::nullopt;
            Phrase eased = *phrase();
            eased.ease = value;
            return HandEdit{MakePhrase{eased}};
        },
        true);
}

void HandPage::addMoves() {
    auto* form = addForm(tr("The chosen passage"));
    const auto frames = [this](double ms) { return toFrames(Milliseconds{ms}, document_.session().rate); };
    const auto asEdit = [this](const Expected<Edit>& edit) -> std::optional<Edit> {
        if (edit)
            return *edit;
        emit notified(QString::fromStdString(edit.error().sentence));
        return std::nullopt;
    };
    NumberSpec shoved = numberOf(tr("Shoved by"), limits::passageMove, 1);
    shoved.slides = 250;
    addNumber(
        form, shoved, [this] { return movedMs(document_.session().shoves); },
        [=, this](double ms) {
            return asEdit(shoveEdit(document_.session(), document_.outcome(), chosen(), frames(ms)));
        },
        true);
    NumberSpec slipped = numberOf(tr("Slipped by"), limits::passageMove, 1);
    slipped.slides = 100;
    addNumber(
        form, slipped, [this] { return movedMs(document_.session().slips); },
        [=, this](double ms) {
            return asEdit(slipEdit(document_.session(), document_.outcome(), chosen(), frames(ms)));
        },
        true);
}

double HandPage::movedMs(const std::vector<PassageMove>& moves) const {
    if (chosen().empty() || chosen().back() >= document_.outcome().hits.size())
        return 0;
    const TakePlace place = placeOf(document_.session(), document_.outcome().hits[chosen().front()]);
    return toMilliseconds(movedBy(moves, place.take, place.at), document_.session().rate).value;
}

void HandPage::selectionChanged() {
    gesture_ = Document::newGesture();
    refresh();
}

void HandPage::show() {
    const Session& session = document_.session();
    const Outcome& outcome = document_.outcome();
    const auto& hits = chosen();
    const bool none = hits.empty() || hits.back() >= outcome.landings.size();
    const MusicalMap map(session.map, session.rate);
    const auto placed = [&](HitIndex hit) {
        return QString::fromStdString(placeText(map, asSong(outcome.landings[hit].at)));
    };
    who_->setText(none ? tr("Choose hits: click one, Shift and click up to another")
                  : hits.size() == 1
                      ? tr("One hit, of take %1")
                            .arg(QLatin1Char(session.takes[outcome.hits[hits.front()].take].letter.value))
                      : tr("%1 hits, %2 to %3").arg(hits.size()).arg(placed(hits.front()), placed(hits.back())));
    place_->setEnabled(!none);
    if (!place_->hasFocus() || !place_->isModified())
        place_->setText(none ? QString() : placed(hits.front()));
    deletePhrase_->setEnabled(!none && phraseAt(session, outcome, hits.front()).has_value());
}

void HandPage::perform(const Expected<Edit>& edit, int gesture) {
    if (!edit)
        return emit notified(QString::fromStdString(edit.error().sentence));
    document_.perform(*edit, gesture);
}

/// The first chosen hit goes to the typed place, the others by as much.
void HandPage::typePlace() {
    const Session& session = document_.session();
    const auto to = placeIn(MusicalMap(session.map, session.rate), place_->text().toStdString());
    if (!to)
        return emit notified(tr("A place is bar, beat and thousandths, as 12.3.250, or seconds, as 31.2s"));
    if (chosen().empty())
        return;
    place_->setModified(false);
    const FrameCount by = asResult(*to) - document_.outcome().landings[chosen().front()].at;
    perform(nudgeEdit(session, document_.outcome(), chosen(), by));
}

void HandPage::nudge(int direction) {
    const double amount = amount_->value() * direction;
    const Session& session = document_.session();
    if (unit_->currentIndex() == gridSteps)
        return perform(stepNudgeEdit(session, document_.outcome(), chosen(),
                                     direction * std::max(1, static_cast<int>(std::lround(amount_->value())))),
                       document_.addingGesture(gesture_));
    const FrameCount by = unit_->currentIndex() == samples ? FrameCount{std::llround(amount)}
                                                           : toFrames(Milliseconds{amount}, session.rate);
    perform(nudgeEdit(session, document_.outcome(), chosen(), by), document_.addingGesture(gesture_));
}

void HandPage::send(int lines) {
    perform(sendEdit(document_.session(), document_.outcome(), chosen(), lines));
}

void HandPage::makePhrase() {
    perform(phraseEdit(document_.session(), document_.outcome(), chosen(), ease_));
}

void HandPage::clear() {
    perform(clearByHandEdit(document_.session(), document_.outcome(), chosen()));
}

void HandPage::fitShove() {
    const Session& session = document_.session();
    const auto passage = passageOf(session, document_.outcome(), chosen());
    if (!passage)
        return emit notified(QString::fromStdString(passage.error().sentence));
    const FrameCount more = suggestedShove(session, document_.outcome(), passage->first, passage->last);
    const double ms = toMilliseconds(more, session.rate).value;
    if (std::abs(ms) < 3)
        return emit notified(tr("This passage fits best where it is"));
    const FrameCount by = movedBy(session.shoves, passage->take, passage->range.begin) + more;
    perform(shoveEdit(session, document_.outcome(), chosen(), by));
    emit notified(tr("Shoved by %1 ms, where its drums fall as in the rest of the song").arg(number(ms, 0)));
}

} // namespace lampo
