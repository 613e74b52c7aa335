#include "stops/timing/figures.h"

#include "look/ink.h"
#include "timing/tightness.h"

#include <QComboBox>
#include <QGridLayout>

namespace lampo {

TightnessFigures::TightnessFigures(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, {}, parent), sheet_(sheet) {
    where_ = new QLabel;
    where_->setFont(textFont(1.0, true));
    where_->setObjectName(QStringLiteral("Figures of"));
    drum_ = new QComboBox;
    drum_->setObjectName(QStringLiteral("Figures drum"));
    drum_->setAccessibleName(tr("Drum of the figures"));
    drum_->addItem(tr("all drums"));
    for (std::size_t voice = 0; voice < voiceCount; ++voice)
        drum_->addItem(QString::fromLatin1(name(static_cast<Voice>(voice)).data()));
    column()->addWidget(where_);
    auto* grid = new QGridLayout;
    grid->setVerticalSpacing(2);
    column()->addLayout(grid);
    const auto put = [&](int row, int at, const QString& text, bool bold = false) {
        auto* label = new QLabel(text);
        label->setFont(textFont(0.95, bold));
        label->setAlignment(at == 0 ? Qt::AlignLeft : Qt::AlignRight);
        grid->addWidget(label, row, at);
        return label;
    };
    grid->addWidget(drum_, 0, 0);
    put(0, 1, tr("played"), true);
    put(0, 2, tr("landed"), true);
    const std::array titles{tr("Mean"), tr("Spread"), tr("Worst"), tr("Within 5 ms")};
    for (int row = 0; row < 4; ++row) {
        put(row + 1, 0, titles[static_cast<std::size_t>(row)]);
        for (int moment = 0; moment < 2; ++moment) {
            auto* cell = put(row + 1, moment + 1, {});
            cell->setObjectName(QStringLiteral("Figure %1 %2").arg(row).arg(moment));
            cells_[static_cast<std::size_t>(row)][static_cast<std::size_t>(moment)] = cell;
        }
    }
    auto* by = new QLabel(tr("By Lampo's own marks"));
    by->setFont(textFont(0.85));
    by->setToolTip(tr("Where the strokes were heard, not where they sound in the print"));
    grid->addWidget(by, 5, 0, 1, 3, Qt::AlignRight);
    connect(drum_, &QComboBox::activated, this, &TightnessFigures::show);
    connect(&sheet_, &SheetWidget::hitSelected, this, &TightnessFigures::show);
    onChangeWhileVisible([this] { show(); });
    refresh();
}

void TightnessFigures::show() {
    const Outcome& outcome = document_.outcome();
    const auto& chosen = sheet_.state().selection;
    const bool some = chosen.size() > 1 && chosen.back() < outcome.landings.size();
    where_->setText(some ? tr("%1 chosen hits").arg(chosen.size()) : tr("The song"));
    where_->setVisible(some); // without it they are the song's, and the page is low
    std::vector<Landing> looked;
    const auto look = [&](HitIndex hit) {
        if (drum_->currentIndex() == 0 || static_cast<int>(outcome.hits[hit].voice) == drum_->currentIndex() - 1)
            looked.push_back(outcome.landings[hit]);
    };
    if (some)
        std::for_each(chosen.begin(), chosen.end(), look);
    else
        for (HitIndex hit; hit < outcome.landings.size(); ++hit)
            look(hit);
    for (const std::size_t moment : {std::size_t{0}, std::size_t{1}}) {
        const Tightness t = tightness(looked, static_cast<Moment>(moment), document_.session().rate);
        cells_[0][moment]->setText(tr("%1 ms").arg(number(t.mean.value, 1)));
        cells_[1][moment]->setText(tr("%1 ms").arg(number(t.spread.value, 1)));
        cells_[2][moment]->setText(tr("%1 ms").arg(number(t.worst.value, 1)));
        cells_[3][moment]->setText(tr("%1 %").arg(number(100 * t.withinFive, 0)));
    }
}

} // namespace lampo
