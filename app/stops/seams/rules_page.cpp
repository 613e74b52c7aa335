#include "stops/seams/rules_page.h"

#include "base/text.h"

#include <QPushButton>

#include <limits>

namespace lampo {

QStringList SeamRulesPage::curves() {
    return {tr("matched to the sides"), tr("equal power"), tr("equal gain"), tr("straight in dB")};
}

QStringList SeamRulesPage::fills() {
    return {tr("borrow the tail before"), tr("stretch the tail before"), tr("leave open")};
}

SeamRulesPage::SeamRulesPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    addScope();
    auto* form = addForm();
    addLeadIn(form);
    addFades(form);
    addFollow();
    addAdvice();
    column()->addStretch(1);
    refresh();
}

void SeamRulesPage::addScope() {
    where_ = new WhereBox(QStringLiteral("Seams where"), WhereBox::Offers::everySection);
    column()->addWidget(where_);
    connect(where_, &WhereBox::chosen, this, [this] { refresh(); });
    onChange([this] { where_->offer(document_.session()); });
}

SeamSettings SeamRulesPage::ruling() const {
    const Session& session = document_.session();
    return section() ? session.seamsIn(session.sections[*section()]) : session.seams;
}

Range<SongFrame> SeamRulesPage::place() const {
    const Session& session = document_.session();
    return section() ? rangeOf(session.sections[*section()], MusicalMap(session.map, session.rate))
                     : Range<SongFrame>{SongFrame{0}, SongFrame{std::numeric_limits<std::int64_t>::max()}};
}

Edit SeamRulesPage::leadInEdit(Milliseconds leadIn) const {
    return section() ? Edit(SeamEdit{SetSectionLeadIn{*section(), leadIn}}) : Edit(SeamEdit{SetLeadIn{leadIn}});
}

void SeamRulesPage::addLeadIn(QFormLayout* form) {
    addNumber(
        form, numberOf(tr("Lead-in"), limits::leadIn, 1), [this] { return ruling().leadIn.value; },
        [this](double value) { return leadInEdit({value}); }, true);
    addChoice(
        form, tr("Holes"), fills(), [this] { return static_cast<int>(ruling().fill); },
        [this](int index) {
            const auto fill = static_cast<Fill>(index);
            return section() ? Edit(SeamEdit{SetSectionFill{*section(), fill}}) : Edit(SeamEdit{SetFill{fill}});
        });
}

void SeamRulesPage::addFades(QFormLayout* form) {
    addNumber(
        form, numberOf(tr("Longest fade"), limits::fade, 1),
        [this] { return document_.session().seams.fade.value; }, [](double value) { return SetFade{{value}}; },
        true);
    addChoice(
        form, tr("Curve"), curves(), [this] { return static_cast<int>(document_.session().seams.curve); },
        [](int index) { return SetFadeCurve{static_cast<FadeCurve>(index)}; });
    NumberSpec most = numberOf(tr("Mark stretches over"), limits::stretch, 2);
    addNumber(
        form, most, [this] { return document_.session().seams.mostStretch; },
        [](double value) { return SetMostStretch{value}; });
    onChange([this] { // these are the song's
        for (const QString& name : {tr("Longest fade"), tr("Curve"), tr("Mark stretches over")})
            if (auto* field = findChild<QWidget*>(name))
                field->setEnabled(!section());
    });
}

void SeamRulesPage::addFollow() {
    auto* follow = new QPushButton(tr("This section follows the song"));
    follow->setObjectName(QStringLiteral("Seams follow the song"));
    column()->addWidget(follow);
    onChange([this, follow] { follow->setVisible(section().has_value()); });
    connect(follow, &QPushButton::clicked, this, [this] {
        const auto here = section();
        if (!here)
            return;
        const int gesture = Document::newGesture();
        document_.perform(SeamEdit{SetSectionLeadIn{*here, {}}}, gesture);
        document_.perform(SeamEdit{SetSectionFill{*here, {}}}, gesture);
    });
}

/// What other lead-ins would cut off and let in.
void SeamRulesPage::addAdvice() {
    auto* note = addNote();
    note->setObjectName(QStringLiteral("Lead-in advice"));
    suggested_ = new QPushButton;
    suggested_->setObjectName(QStringLiteral("Suggested lead-in"));
    column()->addWidget(suggested_, 0, Qt::AlignLeft);
    connect(suggested_, &QPushButton::clicked, this,
            [this] { document_.perform(leadInEdit(advice_.suggested), Document::newGesture()); });
    onChangeWhileVisible([this, note] {
        advice_ = adviseLeadIn(document_.session(), document_.outcome(), place());
        QStringList lines;
        for (const LeadInFigure& figure : advice_.figures)
            lines << tr("%1 ms: cuts off %2, lets in %3")
                         .arg(number(figure.leadIn.value, 0))
                         .arg(figure.cutsOff)
                         .arg(figure.letsIn);
        note->setText(tr("What a lead-in would do to %1: cut off a sound that belongs to the hit, as a hat just "
                         "before the snare, or let in one that does not.\n%2")
                          .arg(counted(advice_.hits, tr("hit")))
                          .arg(lines.join(QLatin1Char('\n'))));
        suggested_->setText(tr("Use %1 ms").arg(number(advice_.suggested.value, 0)));
        suggested_->setEnabled(advice_.hits > 0 && ruling().leadIn != advice_.suggested);
    });
}

} // namespace lampo
