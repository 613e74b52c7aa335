#include "takes/take_strip.h"

#include "takes/takes_painter.h"
#include "takes/takes_words.h"

#include <QApplication>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QWheelEvent>

namespace lampo {

TakeStrip::TakeStrip(Document& document, SheetWidget& sheet, int left, QWidget* parent)
    : QWidget(parent), document_(document), sheet_(sheet) {
    state_.sheet = &sheet.state();
    state_.layout.left = left;
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Takes over the song"));
    setObjectName(QStringLiteral("Take strip"));
    connect(&document_, &Document::changed, this, &TakeStrip::documentChanged);
    connect(&document_, &Document::wavesChanged, this, qOverload<>(&QWidget::update));
    connect(&sheet_, &SheetWidget::axisChanged, this, qOverload<>(&QWidget::update));
    documentChanged();
}

QSize TakeStrip::sizeHint() const {
    return {400, TakesLayout::heightFor(document_.session().takes.size(), QFontMetrics(textFont(0.85)).height())};
}

void TakeStrip::documentChanged() {
    const Session& session = document_.session();
    if (!border_.active() && !carry_.active())
        dropDrags();
    if (state_.row && *state_.row >= session.takes.size())
        state_.row.reset();
    if (state_.border && *state_.border >= session.comp.passages.size())
        state_.border.reset();
    if (state_.range.begin >= SongFrame{0} + session.extent())
        state_.range = {};
    if (state_.layout.rows.size() != session.takes.size())
        updateGeometry();
    relayout();
    if (isVisible())
        measure();
    update();
}

/// Only what the takes played counts, not which of them sounds.
void TakeStrip::measure() {
    std::vector<std::shared_ptr<const LaidTake>> lays;
    for (TakeIndex take; take < document_.session().takes.size(); ++take)
        for (const FormPart& part : document_.session().form)
            lays.push_back(ownLay(document_.session(), document_.outcome(), take, part.begin));
    if (lays == measured_)
        return;
    measured_ = std::move(lays);
    state_.measures = measureTakes(document_.session(), document_.outcome());
}

void TakeStrip::relayout() {
    state_.layout = TakesLayout::of(size(), state_.layout.left, document_.session().takes.size());
}

void TakeStrip::resizeEvent(QResizeEvent*) {
    relayout();
}

void TakeStrip::showEvent(QShowEvent*) {
    measure();
}

void TakeStrip::setSnap(Snap snap) {
    state_.snap = snap;
}

void TakeStrip::choose(std::optional<TakeIndex> take, Range<SongFrame> range) {
    state_.row = take;
    state_.range = range;
    state_.border.reset();
    update();
    emit chosen();
}

void TakeStrip::chooseBorder(std::optional<std::size_t> passage) {
    state_.border = passage;
    update();
    emit chosen();
}

void TakeStrip::setPlayhead(ResultFrame at) {
    playhead_ = at;
    if (isVisible())
        update();
}

void TakeStrip::dropDrags() {
    sweep_.cancel();
    border_.cancel();
    carry_.cancel();
    slide_.cancel();
    state_.slid.reset();
    state_.sweep.reset();
    state_.borderDrag.reset();
    state_.carried.reset();
    update();
}

void TakeStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), state_.sheet->ink.margin);
    if (document_.session().empty())
        return;
    paintTakes(painter, state_, document_);
    const double x = state_.toX(asSong(playhead_));
    if (x >= state_.layout.left) {
        painter.setPen(QPen(state_.sheet->ink.accent, 1.5));
        painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    }
    if (hasFocus()) {
        painter.setPen(state_.sheet->ink.accent);
        painter.drawLine(0, 0, width(), 0);
    }
}

/// As over the sheet.
void TakeStrip::wheelEvent(QWheelEvent* event) {
    QWheelEvent there(event->position() - QPointF(state_.layout.left, 0), event->globalPosition(),
                      event->pixelDelta(), event->angleDelta(), event->buttons(), event->modifiers(),
                      event->phase(), event->inverted());
    QApplication::sendEvent(&sheet_, &there);
    event->accept();
}

void TakeStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || document_.session().empty())
        return;
    const QPoint at = event->position().toPoint();
    const auto row = state_.layout.rowAt(at);
    if (at.x() < state_.layout.left) {
        if (row)
            choose(row, state_.range);
        return;
    }
    const SongFrame place = state_.toFrame(at.x());
    if (event->modifiers() & Qt::AltModifier && row) {
        const bool inside = state_.range.contains(place);
        carry_.press(at, *row, inside ? state_.range : state_.barAround(place));
    } else if (event->modifiers() & Qt::ShiftModifier && row) {
        slide_.press(at, *row);
    } else if (const auto passage = state_.borderUnder(at)) {
        chooseBorder(passage);
        border_.press(at, *passage);
    } else {
        sweep_.press(state_, at, row);
    }
}

void TakeStrip::mouseMoveEvent(QMouseEvent* event) {
    if (document_.session().empty())
        return;
    const QPoint at = event->position().toPoint();
    const bool free = event->modifiers() & Qt::ControlModifier;
    if (border_.active())
        state_.borderDrag = border_.move(state_, at, free);
    else if (carry_.active())
        state_.carried = carry_.move(state_, at, free);
    else if (slide_.active())
        state_.slid = slide_.move(state_, at);
    else if (sweep_.active())
        state_.sweep = sweep_.move(state_, at, free);
    const bool overBorder = border_.active() || (!sweep_.active() && !carry_.active() &&
                                                 at.x() >= state_.layout.left && state_.borderUnder(at));
    setCursor(overBorder ? Qt::SplitHCursor : Qt::ArrowCursor);
    emit pointedAt(wordsAt(at));
    update();
}

void TakeStrip::mouseReleaseEvent(QMouseEvent* event) {
    const QPoint at = event->position().toPoint();
    const bool free = event->modifiers() & Qt::ControlModifier;
    if (border_.active()) {
        const auto edit = border_.release(state_, at, free);
        dropDrags();
        if (edit)
            document_.perform(*edit);
    } else if (carry_.active()) {
        const auto carried = carry_.release(state_, at, free);
        dropDrags();
        if (carried)
            emit graftWanted(carried->take, carried->from, carried->to, free);
    } else if (slide_.active()) {
        const auto edit = slide_.release(state_, at);
        dropDrags();
        if (edit)
            document_.perform(*edit);
    } else if (sweep_.active()) {
        const auto swept = sweep_.release(state_, at, free);
        const auto take = sweep_.take();
        dropDrags();
        if (!swept) { // a click: the bar, and the place to listen from
            choose(take, state_.barAround(state_.toFrame(at.x())));
            emit placeChosen(asResult(state_.toFrame(at.x())));
        } else {
            choose(swept->take, swept->range);
            if (swept->take)
                document_.perform(Lay{swept->range, swept->take});
        }
    }
}

void TakeStrip::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape)
        return QWidget::keyPressEvent(event);
    const bool dragging = sweep_.active() || border_.active() || carry_.active() || slide_.active();
    dropDrags();
    if (!dragging)
        choose(std::nullopt, {});
}

void TakeStrip::leaveEvent(QEvent*) {
    emit pointedAt({});
}

QString TakeStrip::wordsAt(QPoint at) const {
    const Session& session = document_.session();
    if (state_.borderDrag)
        return tr("Border at %1").arg(placeWords(session, state_.borderDrag->at));
    if (state_.carried)
        return tr("%1 of take %2 to %3")
            .arg(rangeWords(session, state_.carried->from))
            .arg(QLatin1Char(session.takes[state_.carried->take].letter.value))
            .arg(placeWords(session, state_.carried->to));
    if (state_.slid)
        return tr("Take %1 by %2 s")
            .arg(QLatin1Char(session.takes[state_.slid->take].letter.value))
            .arg(toSeconds(state_.slid->by, session.rate).value, 0, 'f', 3);
    if (state_.sweep)
        return rangeWords(session, state_.sweep->range);
    if (at.x() < state_.layout.left)
        return {};
    const SongFrame place = state_.toFrame(at.x());
    const auto row = state_.layout.rowAt(at);
    if (!row)
        return sourceWords(session, place);
    const int bar = MusicalMap(session.map, session.rate).barAt(place);
    const BarMeasure* measure = state_.measures.of(*row, bar);
    return tr("Take %1, bar %2: %3")
        .arg(QLatin1Char(session.takes[*row].letter.value))
        .arg(bar)
        .arg(measure ? measureWords(*measure) : tr("no strokes"));
}

} // namespace lampo
