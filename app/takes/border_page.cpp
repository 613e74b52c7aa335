#include "takes/border_page.h"

#include "look/ink.h"
#include "takes/takes_words.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QPushButton>

namespace lampo {

BorderPage::BorderPage(Document& document, TakeStrip& strip, QWidget* parent)
    : Panel(document, {}, parent), strip_(strip) {
    column()->setSpacing(4);
    place_ = new QLabel;
    place_->setFont(textFont(1.0, true));
    column()->addWidget(place_);
    addFade();
    addAdvice();
    onChange([this] { fill(); });
    connect(&strip_, &TakeStrip::chosen, this, [this] { refresh(); });
    refresh();
}

/// It is listened to only while it is seen.
void BorderPage::showEvent(QShowEvent*) {
    refresh();
}

std::optional<std::size_t> BorderPage::border() const {
    const auto border = strip_.state().border;
    return border && *border < document_.session().comp.passages.size() ? border : std::nullopt;
}

void BorderPage::addFade() {
    auto* fade = new QDoubleSpinBox;
    fade->setObjectName(QStringLiteral("Border fade"));
    fade->setAccessibleName(tr("Fade of the border"));
    fade->setRange(0, limits::borderFade.high); // 0: as all seams
    fade->setDecimals(1);
    fade->setSuffix(tr(" ms"));
    fade->setSpecialValueText(tr("as all seams"));
    fade->setKeyboardTracking(false);
    fade->setButtonSymbols(QAbstractSpinBox::NoButtons);
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel(tr("Fade")));
    row->addWidget(fade, 1);
    column()->addLayout(row);
    const auto place = [this] { return document_.session().comp.passages[*border()].begin; };
    connect(fade, &QDoubleSpinBox::valueChanged, this, [this, place](double ms) {
        if (!refreshing() && border())
            document_.perform(SetBorderFade{place(), ms < 1 ? std::nullopt : std::optional(Milliseconds{ms})});
    });
    onChange([this, place, fade] {
        if (border())
            fade->setValue(document_.session().comp.fadeAt(place()).value_or(Milliseconds{0}).value);
    });
}

void BorderPage::addAdvice() {
    advice_ = new QLabel;
    advice_->setWordWrap(true);
    advice_->setFont(textFont(0.92));
    advice_->setMinimumHeight(QFontMetrics(textFont(0.92)).height() * 3);
    advice_->setAlignment(Qt::AlignTop);
    advice_->setObjectName(QStringLiteral("Border advice"));
    column()->addWidget(advice_);
    auto* buttons = new QHBoxLayout;
    useFade_ = new QPushButton;
    useFade_->setObjectName(QStringLiteral("Use longer fade"));
    useStroke_ = new QPushButton;
    useStroke_->setObjectName(QStringLiteral("Use cymbal stroke"));
    buttons->addWidget(useFade_);
    buttons->addWidget(useStroke_);
    column()->addLayout(buttons);
    connect(useFade_, &QPushButton::clicked, this, [this] {
        document_.perform(SetBorderFade{document_.session().comp.passages[*border()].begin, advised_->fade});
    });
    connect(useStroke_, &QPushButton::clicked, this, [this] {
        document_.perform(MoveBorder{*border(), *advised_->before});
    });
}

void BorderPage::fill() {
    const Session& session = document_.session();
    const auto chosen = border();
    setVisible(chosen.has_value());
    if (!chosen)
        return;
    const SongFrame at = session.comp.passages[*chosen].begin;
    place_->setText(tr("Border at %1").arg(placeWords(session, at)));
    if (isVisible() && advisedFor_ != std::pair(at, document_.outcome().plan)) {
        advisedFor_ = {at, document_.outcome().plan};
        const auto advice = adviseOnBorder(session, document_.outcome(), *chosen);
        advised_ = advice ? std::optional(*advice) : std::nullopt;
    }
    const bool rings = advised_ && advised_->ringsAcross;
    advice_->setText(rings ? tr("Cymbals ring across it (%1 dB under their loudest stroke): a longer fade hides "
                                "the change better, "
                                "or a border just before a cymbal stroke.")
                                 .arg(number(-advised_->ring.value, 0))
                           : tr("Nothing much rings across it."));
    useFade_->setVisible(rings);
    useStroke_->setVisible(rings && advised_->before);
    if (rings)
        useFade_->setText(tr("Fade of %1 ms").arg(number(advised_->fade.value, 0)));
    if (rings && advised_->before)
        useStroke_->setText(tr("To %1").arg(placeWords(session, *advised_->before)));
}

} // namespace lampo
