#include "stops/hits_panel.h"

#include "hits/detection.h"
#include "look/ink.h"
#include "look/names.h"
#include "look/number.h"
#include "stops/offered_grids.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QToolButton>

#include <algorithm>
#include <array>

namespace lampo {
namespace {

QDoubleSpinBox* wholeMilliseconds(const QString& name, const QString& meaning, const QString& suffix) {
    auto* field = new QDoubleSpinBox;
    field->setObjectName(name);
    field->setAccessibleName(meaning);
    field->setSuffix(suffix);
    field->setDecimals(0);
    field->setButtonSymbols(QAbstractSpinBox::NoButtons);
    field->setKeyboardTracking(false);
    return field;
}

} // namespace

HitsPanel::HitsPanel(Document& document, QWidget* parent) : Panel(document, tr("Hits"), parent) {
    addWhere();
    addDetection();
    addEmphasis();
    addFinest();
    addClusters();
    auto* tallyNote = addNote();
    onChange([=, this] { tallyNote->setText(tally()); });
    addLost();
    table_ = new HitsTable(document_);
    column()->addWidget(table_, 1);
    onChange([this] { table_->refresh(); });
    refresh();
}

void HitsPanel::addWhere() {
    auto* form = addForm();
    guides_ = new QComboBox;
    guides_->setAccessibleName(tr("Guide"));
    guides_->setObjectName(QLatin1String(names::guideBox));
    guides_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    form->addRow(tr("Guide"), guides_);
    where_ = new WhereBox(QStringLiteral("Where"), WhereBox::Offers::sectionsOfBars);
    follow_ = new QToolButton;
    follow_->setText(tr("as the song"));
    follow_->setToolTip(tr("This section follows the song's settings for this guide again"));
    follow_->setObjectName(QStringLiteral("As the song"));
    auto* row = new QHBoxLayout;
    row->addWidget(where_, 1);
    row->addWidget(follow_);
    form->addRow(tr("Where"), row);
    connect(guides_, &QComboBox::currentIndexChanged, this, [this] {
        refresh();
        if (hear_->isChecked())
            emit bandsWanted(mic());
    });
    connect(where_, &WhereBox::chosen, this, [this] { refresh(); });
    connect(follow_, &QToolButton::clicked, this, [this] {
        if (section() && guide())
            document_.perform(SetSectionDetection{*section(), {guide()->stem, {}, {}, {}}});
    });
    onChange([this] {
        showGuides();
        where_->offer(document_.session());
        follow_->setEnabled(!own().empty());
    });
}

void HitsPanel::addDetection() {
    auto* form = addForm();
    const auto read = [this](auto member, auto ownMember, double otherwise) {
        const Mic* mic = guide();
        if (!mic)
            return otherwise;
        const SectionDetection here = own();
        return (here.*ownMember).value_or(mic->*member).value;
    };
    const auto usual = [this] {
        return defaultThreshold(document_.session().mics, guide() ? guide()->role : Role::other).value;
    };
    NumberSpec threshold = numberOf(tr("Threshold"), limits::threshold, 1);
    threshold.defaultNow = usual; // it depends on the drum
    addNumber(
        form, threshold, [=] { return read(&Mic::threshold, &SectionDetection::threshold, usual()); },
        [this](double value) -> Edit {
            if (!section())
                return SetThreshold{micToSet(), {value}};
            SectionDetection here = own();
            here.threshold = Decibels{value};
            return SetSectionDetection{*section(), here};
        },
        true);
    addNumber(
        form, numberOf(tr("Shortest gap"), limits::shortestGap),
        [=] { return read(&Mic::shortestGap, &SectionDetection::shortestGap, limits::shortestGap.defaultValue); },
        [this](double value) -> Edit {
            if (!section())
                return SetShortestGap{micToSet(), {value}};
            SectionDetection here = own();
            here.shortestGap = Milliseconds{value};
            return SetSectionDetection{*section(), here};
        });
    auto* bleed = new QCheckBox(tr("Leave out what the other drums explain"));
    bleed->setObjectName(QStringLiteral("Judge bleed"));
    form->addRow(bleed);
    connect(bleed, &QCheckBox::clicked, this, [this](bool on) {
        if (!section()) {
            document_.perform(SetBleedJudging{micToSet(), on});
            return;
        }
        SectionDetection here = own();
        here.judgesBleed = on;
        document_.perform(SetSectionDetection{*section(), here});
    });
    onChange([=, this] {
        bleed->setEnabled(guide());
        if (guide())
            bleed->setChecked(own().judgesBleed.value_or(guide()->judgesBleed));
    });
}

void HitsPanel::addEmphasis() {
    auto* row = new QHBoxLayout;
    row->setSpacing(3);
    const QStringList bands{tr("to 150 Hz"), tr("to 700 Hz"), tr("to 3.5 kHz"), tr("above")};
    for (int band = 0; band < bands.size(); ++band) {
        auto* weight = new QDoubleSpinBox;
        weight->setRange(limits::bandWeight.low, limits::bandWeight.high);
        weight->setSingleStep(limits::bandWeight.step);
        weight->setDecimals(2);
        weight->setButtonSymbols(QAbstractSpinBox::NoButtons);
        weight->setKeyboardTracking(false);
        weight->setAccessibleName(tr("Weight of the band %1").arg(bands[band]));
        weight->setObjectName(QStringLiteral("Band %1").arg(band));
        weight->setToolTip(tr("How much the band %1 counts when this guide is listened to").arg(bands[band]));
        auto* box = new QVBoxLayout;
        auto* label = new QLabel(bands[band]);
        label->setFont(textFont(0.75));
        box->setSpacing(0);
        box->addWidget(label);
        box->addWidget(weight);
        row->addLayout(box, 1);
        connect(weight, &QDoubleSpinBox::valueChanged, this, [this, band](double value) {
            if (!guide() || refreshing())
                return;
            BandWeights weights = emphasisOf(*guide());
            weights[static_cast<std::size_t>(band)] = value;
            document_.perform(SetEmphasis{micToSet(), weights});
        });
        onChange([=, this] {
            if (guide())
                weight->setValue(emphasisOf(*guide())[static_cast<std::size_t>(band)]);
        });
    }
    auto* buttons = new QVBoxLayout;
    buttons->setSpacing(2);
    auto* usual = new QToolButton;
    usual->setText(tr("by drum"));
    usual->setToolTip(tr("The bands in which this drum tells itself apart"));
    hear_ = new QToolButton;
    hear_->setText(tr("hear"));
    hear_->setCheckable(true);
    hear_->setObjectName(QStringLiteral("Hear bands"));
    hear_->setToolTip(tr("Hear this guide alone, through these bands"));
    for (QToolButton* button : {usual, hear_}) {
        button->setFont(textFont(0.8));
        button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        buttons->addWidget(button);
    }
    row->addLayout(buttons);
    column()->addLayout(row);
    connect(usual, &QToolButton::clicked, this, [this] {
        document_.perform(SetEmphasis{micToSet(), std::nullopt});
    });
    connect(hear_, &QToolButton::toggled, this, [this](bool on) { emit bandsWanted(on ? mic() : std::nullopt); });
}

void HitsPanel::addFinest() {
    auto* row = new QHBoxLayout;
    auto* finest = new QComboBox;
    finest->addItem(tr("any note"));
    finest->addItems(offeredGridNames());
    finest->setAccessibleName(tr("Finest note"));
    finest->setObjectName(QStringLiteral("Finest note"));
    auto* near = wholeMilliseconds(QStringLiteral("Near"), tr("How near a line"), tr(" ms near"));
    near->setRange(limits::nearFinest.low, limits::nearFinest.high);
    near->setValue(Finest{}.near.value);
    auto* label = new QLabel(tr("Finest note"));
    label->setToolTip(tr("Hits away from every line of this note are not cut at"));
    row->addWidget(label);
    row->addWidget(finest, 1);
    row->addWidget(near);
    column()->addLayout(row);
    const auto shown = [this]() -> const std::optional<Finest>& {
        return section() ? document_.session().sections[*section()].finest : document_.session().finest;
    };
    const auto set = [=, this] {
        if (refreshing())
            return;
        const int choice = finest->currentIndex();
        std::optional<Finest> wanted;
        if (choice > 0)
            wanted = Finest{offeredGrids()[static_cast<std::size_t>(choice - 1)], {near->value()}};
        document_.perform(SetFinest{section(), wanted});
    };
    connect(finest, &QComboBox::activated, this, set);
    connect(near, &QDoubleSpinBox::valueChanged, this, [=] {
        if (finest->currentIndex() > 0)
            set();
    });
    onChange([=, this] {
        finest->setItemText(0, section() ? tr("as the song") : tr("any note"));
        finest->setCurrentIndex(shown() ? offeredGridIndex(shown()->value) + 1 : 0);
        near->setEnabled(shown().has_value());
        if (shown())
            near->setValue(shown()->near.value);
    });
}

void HitsPanel::addClusters() {
    auto* row = new QHBoxLayout;
    auto* window =
        wholeMilliseconds(QStringLiteral("One hit within"), tr("Strokes within this time are one hit"), tr(" ms"));
    window->setRange(limits::oneHit.low, limits::oneHit.high);
    auto* anchor = new QComboBox;
    anchor->addItems({tr("highest rank lands"), tr("loudest lands"), tr("their middle lands")});
    anchor->setAccessibleName(tr("Which stroke of a hit lands"));
    anchor->setObjectName(QStringLiteral("Anchor"));
    auto* label = new QLabel(tr("One hit within"));
    label->setToolTip(tr("Drums struck together are one hit: which of their strokes is put on the line?"));
    row->addWidget(label);
    row->addWidget(window);
    row->addWidget(anchor, 1);
    column()->addLayout(row);
    const auto set = [=, this] {
        if (!refreshing())
            document_.perform(SetClusters{{{window->value()}, static_cast<Anchor>(anchor->currentIndex())}});
    };
    connect(window, &QDoubleSpinBox::valueChanged, this, set);
    connect(anchor, &QComboBox::activated, this, set);
    onChange([=, this] {
        window->setValue(document_.session().clusters.window.value);
        anchor->setCurrentIndex(static_cast<int>(document_.session().clusters.anchor));
    });
}

void HitsPanel::addLost() {
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    auto* text = new QLabel;
    text->setWordWrap(true);
    text->setObjectName(QStringLiteral("Lost corrections"));
    auto* drop = new QPushButton(tr("Forget them"));
    row->addWidget(text, 1);
    row->addWidget(drop);
    column()->addWidget(box);
    connect(drop, &QPushButton::clicked, this, [this] {
        std::vector<TakePlace> places;
        for (const Correction& lost : document_.outcome().lost)
            places.push_back({lost.take, lost.at});
        document_.perform(DeleteCorrections{places});
    });
    onChange([=, this] {
        const auto& lost = document_.outcome().lost;
        box->setVisible(!lost.empty());
        QStringList places;
        const Session& session = document_.session();
        for (const Correction& correction : lost) {
            const auto take = session.takeLettered(correction.take);
            if (!take)
                continue;
            const BarBeat at =
                MusicalMap(session.map, session.rate).barBeat(correction.at + session.takes[*take].shift());
            places << tr("%1 in take %2 at %3 : %4")
                          .arg(QLatin1String(name(correction.kind).data()))
                          .arg(QLatin1Char(correction.take.value))
                          .arg(at.bar)
                          .arg(at.beat, 0, 'f', 2);
        }
        text->setText(tr("Corrections that find no hit now: %1. They wait until it is heard again.")
                          .arg(places.join(QStringLiteral(", "))));
    });
}

std::optional<MicIndex> HitsPanel::mic() const {
    return guides_->currentIndex() < 0
               ? std::nullopt
               : document_.session().micNamed(shown_[static_cast<std::size_t>(guides_->currentIndex())]);
}

const Mic* HitsPanel::guide() const {
    const auto chosen = mic();
    return chosen ? &document_.session().mics[*chosen] : nullptr;
}

MicIndex HitsPanel::micToSet() const {
    return mic().value_or(MicIndex{document_.session().mics.size()});
}

SectionDetection HitsPanel::own() const {
    if (!guide())
        return {};
    const std::string& stem = guide()->stem;
    const SectionDetection* found =
        section() ? document_.session().sections[*section()].detectionOf(stem) : nullptr;
    return found ? *found : SectionDetection{stem, {}, {}, {}};
}

void HitsPanel::showGuides() {
    std::vector<std::string> stems;
    for (const Mic& mic : document_.session().mics)
        if (mic.guide)
            stems.push_back(mic.stem);
    if (stems == shown_)
        return;
    const QString chosen = guides_->currentText();
    shown_ = stems;
    const QSignalBlocker quiet(guides_);
    guides_->clear();
    for (const Mic& mic : document_.session().mics)
        if (mic.guide)
            guides_->addItem(QString::fromStdString(mic.shownName()));
    guides_->setCurrentIndex(stems.empty() ? -1 : std::max(0, guides_->findText(chosen)));
}

QString HitsPanel::tally() const {
    const auto chosen = mic();
    if (!chosen || document_.session().empty())
        return {};
    std::array<int, verdictCount> counts{};
    for (TakeIndex take; take < document_.session().takes.size(); ++take)
        if (document_.session().sounds(take))
            for (const JudgedCandidate& judged : document_.outcome().takes[take]->found.judged[*chosen])
                ++counts[static_cast<std::size_t>(judged.verdict)];
    const auto count = [&](Verdict verdict) { return counts[static_cast<std::size_t>(verdict)]; };
    return tr("%1; %2 below the threshold, %3 explained as bleed, %4 unlike the drum, %5 too near another, "
              "%6 finer than wanted")
        .arg(counted(count(Verdict::hit), tr("hit")))
        .arg(count(Verdict::below))
        .arg(count(Verdict::bleed))
        .arg(count(Verdict::unlike))
        .arg(count(Verdict::tooNear))
        .arg(count(Verdict::tooFine));
}

QString HitsPanel::state() const {
    const auto& outcome = document_.outcome();
    const auto doubtful =
        std::count_if(outcome.landings.begin(), outcome.landings.end(),
                      [](const Landing& landing) { return landing.state == LandingState::doubtful; });
    if (outcome.landings.empty())
        return tr("none yet");
    const QString hits = counted(std::ssize(outcome.landings), tr("hit"));
    return doubtful > 0 ? tr("%1, %2 doubtful").arg(hits).arg(doubtful) : hits;
}

} // namespace lampo
