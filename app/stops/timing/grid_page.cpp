#include "stops/timing/grid_page.h"

#include "look/ink.h"
#include "stops/offered_grids.h"

#include <QGridLayout>
#include <QPushButton>

#include <algorithm>
#include <array>

namespace lampo {

GridPage::GridPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    addScope();
    addSettings();
    addDrums();
    column()->addStretch(1);
    refresh();
}

void GridPage::addScope() {
    where_ = new WhereBox(QStringLiteral("Timing where"), WhereBox::Offers::everySection);
    column()->addWidget(where_);
    connect(where_, &WhereBox::chosen, this, [this] { refresh(); });
    onChange([this] { where_->offer(document_.session()); });
}

/// What rules there.
TimingSettings GridPage::ruling() const {
    const Session& session = document_.session();
    return section() ? session.timingIn(session.sections[*section()]) : session.timing;
}

void GridPage::addSettings() {
    auto* form = addForm();
    addChoice(
        form, tr("Grid"), offeredGridNames(), [this] { return offeredGridIndex(ruling().grid); },
        [this](int index) {
            const NoteValue grid = offeredGrids()[static_cast<std::size_t>(index)];
            return section() ? Edit(SetSectionGrid{*section(), grid}) : Edit(SetGrid{grid});
        });
    addNumber(
        form, numberOf(tr("Strength"), limits::strength), [this] { return ruling().strength; },
        [this](double value) {
            return section() ? Edit(SetSectionStrength{*section(), value}) : Edit(SetStrength{value});
        },
        true);
    addNumber(
        form, numberOf(tr("Swing"), limits::swing, 1), [this] { return ruling().swing; },
        [this](double value) {
            return Edit(SetSwing{section(), value});
        });
    NumberSpec around = numberOf(tr("Pocket"), limits::pocket, 1);
    around.unit = tr("± ms");
    auto* pocket = addNumber(
        form, around, [this] { return ruling().pocket.value; },
        [this](double value) {
            return Edit(SetPocket{section(), Milliseconds{value}});
        });
    addChoice(
        pocket, tr("Outside it"), {tr("to its line"), tr("to its edge")},
        [this] { return static_cast<int>(ruling().pull); },
        [this](int index) {
            return Edit(SetPull{section(), static_cast<Pull>(index)});
        });
    NumberSpec farthest = numberOf(tr("Reach (0: any)"), limits::reach, 2);
    farthest.unit.clear(); // a choice beside it
    farthest.defaultValue = 0;
    auto* reach = addNumber(
        form, farthest, [this] { return ruling().reach ? ruling().reach->value : 0; },
        [this](double value) {
            const bool steps = ruling().reach.value_or(usualReach_).inSteps;
            return Edit(SetReach{section(), value > 0 ? std::optional(Reach{value, steps}) : std::nullopt});
        });
    addChoice(
        reach, tr("Reach counts"), {tr("ms"), tr("steps")},
        [this] { return ruling().reach.value_or(usualReach_).inSteps ? 1 : 0; },
        [this](int index) -> Edit {
            usualReach_ = index == 1 ? Reach{1, true} : Reach{80, false};
            return SetReach{section(), ruling().reach ? std::optional(usualReach_) : std::nullopt};
        });
    addChoice(
        form, tr("Lines by"), {tr("one path for all hits"), tr("nearest, to compare")},
        [this] { return static_cast<int>(document_.session().assign); },
        [](int index) { return Edit(SetAssign{static_cast<Assign>(index)}); });
}

void GridPage::addDrums() {
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(2);
    column()->addLayout(grid);
    for (std::size_t voice = 0; voice < voiceCount; ++voice) {
        const QString drum = QString::fromLatin1(name(static_cast<Voice>(voice)).data());
        auto* box = new QComboBox;
        box->setObjectName(drum + QStringLiteral(" goes"));
        box->setAccessibleName(tr("What the %1 does").arg(drum));
        box->addItems({tr("lands"), tr("rides along"), tr("stays")});
        auto* label = new QLabel(drum);
        const int column = static_cast<int>(voice) % 2 * 2;
        grid->addWidget(label, static_cast<int>(voice) / 2, column);
        grid->addWidget(box, static_cast<int>(voice) / 2, column + 1);
        connect(box, &QComboBox::activated, this, [this, voice](int index) {
            document_.perform(SetDrumTiming{section(), static_cast<Voice>(voice), static_cast<DrumTiming>(index)});
        });
        onChange([this, box, voice] { box->setCurrentIndex(static_cast<int>(ruling().drumTimings[voice])); });
    }
    auto* follow = new QPushButton(tr("This section follows the song"));
    follow->setObjectName(QStringLiteral("Follow the song"));
    column()->addWidget(follow);
    onChange([this, follow] { follow->setVisible(section().has_value()); });
    connect(follow, &QPushButton::clicked, this, [this] {
        const int gesture = Document::newGesture();
        const auto here = section();
        if (!here)
            return;
        for (const Edit& edit : std::initializer_list<Edit>{
                 SetSectionGrid{*here, {}}, SetSectionStrength{*here, {}}, SetSwing{here, {}}, SetPocket{here, {}},
                 SetPull{here, {}}, SetReach{here, {}}, FollowDrumTimings{*here}, UseFeel{here, {}}})
            document_.perform(edit, gesture);
    });
}

} // namespace lampo
