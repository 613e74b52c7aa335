#include "stops/hits_panel.h"

#include <QComboBox>

#include <algorithm>
#include <array>

namespace lampo {

HitsPanel::HitsPanel(Document& document, QWidget* parent) : Panel(document, tr("Hits"), parent) {
    auto* form = addForm();
    guides_ = new QComboBox;
    guides_->setAccessibleName(tr("Guide"));
    guides_->setObjectName(QStringLiteral("Guide"));
    form->addRow(tr("Guide"), guides_);
    connect(guides_, &QComboBox::currentIndexChanged, this, [this] { refresh(); });
    onChange([this] { showGuides(); });
    const auto read = [this](auto member, double otherwise) {
        const auto& mics = document_.session().mics;
        return mic() < mics.size() ? (mics[mic()].*member).value : otherwise;
    };
    addNumber(
        form, {tr("Threshold"), tr("dB"), -60, 0, 0.5, 1, -24}, [=] { return read(&Mic::threshold, -24); },
        [this](double value) {
            return SetThreshold{mic(), {value}};
        },
        true);
    addNumber(
        form, {tr("Shortest gap"), tr("ms"), 10, 500, 5, 0, 40}, [=] { return read(&Mic::shortestGap, 40); },
        [this](double value) {
            return SetShortestGap{mic(), {value}};
        });
    auto* tallyNote = addNote();
    onChange([=, this] { tallyNote->setText(tally()); });
    addNote(tr("The threshold is relative to the mic's typical strong hit. It only shows and hides what was heard; "
               "nothing is analysed again."));
    column()->addStretch(1);
    refresh();
}

std::size_t HitsPanel::mic() const {
    return guides_->currentIndex() < 0 ? document_.session().mics.size()
                                       : document_.session().micNamed(guides_->currentText().toStdString());
}

void HitsPanel::showGuides() {
    std::vector<std::string> stems;
    for (const Mic& mic : document_.session().mics)
        if (mic.guide)
            stems.push_back(mic.stem);
    if (stems == shown_)
        return;
    shown_ = stems;
    const QString chosen = guides_->currentText();
    const QSignalBlocker quiet(guides_);
    guides_->clear();
    for (const auto& stem : stems)
        guides_->addItem(QString::fromStdString(stem));
    guides_->setCurrentIndex(std::max(0, guides_->findText(chosen)));
}

QString HitsPanel::tally() const {
    const std::size_t chosen = mic();
    if (chosen >= document_.session().mics.size() || document_.session().empty())
        return {};
    std::array<int, 4> counts{};
    for (const JudgedCandidate& judged : document_.outcome().found.judged[chosen])
        ++counts[static_cast<std::size_t>(judged.verdict)];
    return tr("%1 hits; %2 below the threshold, %3 explained as bleed, %4 too near another")
        .arg(counts[0])
        .arg(counts[1])
        .arg(counts[2])
        .arg(counts[3]);
}

QString HitsPanel::state() const {
    const auto& outcome = document_.outcome();
    const auto doubtful =
        std::count_if(outcome.landings.begin(), outcome.landings.end(),
                      [](const Landing& landing) { return landing.state == LandingState::doubtful; });
    if (outcome.landings.empty())
        return tr("none yet");
    return doubtful > 0 ? tr("%1 hits, %2 doubtful").arg(outcome.landings.size()).arg(doubtful)
                        : tr("%1 hits").arg(outcome.landings.size());
}

} // namespace lampo
