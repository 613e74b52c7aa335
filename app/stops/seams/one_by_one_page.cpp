#include "stops/seams/one_by_one_page.h"

#include "advice/seam_shapes.h"
#include "base/text.h"
#include "look/number.h"
#include "stops/seams/rules_page.h"

#include <QToolButton>

#include <algorithm>

namespace lampo {
namespace {

const limits::Setting aheadOfAttack{"ms", 1, 500, 10, 0.5};

} // namespace

SeamsPage::SeamsPage(Document& document, QWidget* parent)
    : Panel(document, {}, parent), table_(new SeamsTable(document_)), listening_(new SeamListening(document_)) {
    addTally();
    column()->addWidget(table_, 1);
    onChangeWhileVisible([this] { table_->refresh(); });
    addChosen();
    column()->addWidget(listening_);
    refresh();
}

void SeamsPage::addTally() {
    auto* note = addNote();
    note->setObjectName(QStringLiteral("Seams tally"));
    connect(&document_.seamWork(), &SeamWork::busyChanged, this, [this] { refresh(); });
    onChangeWhileVisible([this, note] { note->setText(tally()); });
}

void SeamsPage::addChosen() {
    auto* form = addForm(tr("The chosen seam"));
    const auto shape = [this](auto&& change) -> std::optional<Edit> {
        const auto seams = chosen();
        if (seams.empty())
            return std::nullopt;
        return SeamEdit{shaped(document_.session(), seams, change)};
    };
    addNumber(
        form, numberOf(tr("Before attack"), aheadOfAttack, 1),
        [this] {
            return first() ? toMilliseconds(first()->ahead, document_.session().rate).value
                           : aheadOfAttack.defaultValue;
        },
        [this, shape](double value) {
            return shape([this, value](const Seam&, SeamByHand& said) {
                said.ahead = toFrames(Milliseconds{value}, document_.session().rate);
            });
        });
    addNumber(
        form, numberOf(tr("Its fade"), limits::fade, 1),
        [this] {
            return first() ? toMilliseconds(first()->range.length(), document_.session().rate).value
                           : document_.session().seams.fade.value;
        },
        [shape](double value) {
            return shape([value](const Seam&, SeamByHand& said) { said.fade = Milliseconds{value}; });
        });
    const auto choose = [this, form, shape](const QString& label, const QStringList& choices, auto&& read,
                                            auto&& write) {
        addChoice(form, label, QStringList{tr("as the song")} + choices, read, [shape, write](int index) {
            const auto edit = shape([write, index](const Seam&, SeamByHand& said) { write(said, index - 1); });
            return edit ? *edit : Edit{SeamEdit{ShapeSeams{}}}; // refused: none is chosen
        });
    };
    choose(
        tr("Its curve"), SeamRulesPage::curves(),
        [this] { return said() && said()->curve ? 1 + static_cast<int>(*said()->curve) : 0; },
        [](SeamByHand& said, int index) {
            said.curve = index < 0 ? std::nullopt : std::optional(static_cast<FadeCurve>(index));
        });
    choose(
        tr("Its hole"), SeamRulesPage::fills(),
        [this] { return said() && said()->fill ? 1 + static_cast<int>(*said()->fill) : 0; },
        [](SeamByHand& said, int index) {
            said.fill = index < 0 ? std::nullopt : std::optional(static_cast<Fill>(index));
        });
    reset_ = new QToolButton;
    reset_->setText(tr("Place by sound again"));
    reset_->setObjectName(QStringLiteral("Reset seam"));
    connect(reset_, &QToolButton::clicked, this, &SeamsPage::resetChosen);
    column()->addWidget(reset_);
    onChange([this] {
        for (const QString& name : {tr("Before attack"), tr("Its fade"), tr("Its curve"), tr("Its hole")})
            if (auto* field = findChild<QWidget*>(name))
                field->setEnabled(first() != nullptr);
        reset_->setEnabled(said() != nullptr);
    });
}

std::vector<Seam> SeamsPage::chosen() const {
    std::vector<Seam> seams;
    const auto& all = document_.outcome().plan->seams;
    for (const SeamIndex seam : chosen_)
        if (seam < all.size() && canBeShaped(all[seam]))
            seams.push_back(all[seam]);
    return seams;
}

const Seam* SeamsPage::first() const {
    const auto& all = document_.outcome().plan->seams;
    const auto found = std::find_if(chosen_.begin(), chosen_.end(),
                                    [&](SeamIndex seam) { return seam < all.size() && canBeShaped(all[seam]); });
    return found == chosen_.end() ? nullptr : &all[*found];
}

const SeamByHand* SeamsPage::said() const {
    const Session& session = document_.session();
    return first() ? saidAbout(session.seamsByHand, *first()->between, correctionTolerance(session.rate)) : nullptr;
}

void SeamsPage::showChosen(const std::vector<SeamIndex>& seams) {
    chosen_ = seams;
    table_->showChosen(seams);
    refresh();
}

void SeamsPage::resetChosen() {
    const auto seams = chosen();
    if (seams.empty())
        return;
    document_.perform(SeamEdit{resetSeams(document_.session(), seams)});
}

QString SeamsPage::tally() const {
    const Plan& plan = *document_.outcome().plan;
    float deepest = 0, ruled = 0;
    std::ptrdiff_t byEar = 0;
    for (const Seam& seam : plan.seams) {
        byEar += seam.by == PlacedBy::search;
        deepest = std::max(deepest, seam.dip);
        ruled = std::max(ruled, seam.ruledDip);
    }
    const QString working = document_.seamWork().busy() ? tr("Listening for the best places. ") : QString();
    if (byEar == 0)
        return working + tr("Every mic is joined at the same sample, by the same curve; each attack is the "
                            "recording itself.");
    return working + tr("%1 placed by sound over all mics: the deepest dip is %2 dB, by rule it would be %3 dB.")
                         .arg(counted(byEar, tr("seam is"), tr("seams are")))
                         .arg(number(deepest, 1), number(ruled, 1));
}

} // namespace lampo
