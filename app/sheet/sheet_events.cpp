// What wheel, mouse and keys do on the sheet.
#include "sheet/sheet_widget.h"

#include "sheet/sheet_words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>

#include <cmath>

namespace lampo {

void SheetWidget::wheelEvent(QWheelEvent* event) {
    const QPoint turned = event->angleDelta();
    if (event->modifiers() & Qt::ControlModifier) {
        const auto lane = event->modifiers() & Qt::ShiftModifier ? state_.layout.laneAt(event->position().toPoint())
                                                                 : std::nullopt;
        heightenWaves(std::pow(2.0, (turned.y() + turned.x()) / 240.0), lane);
        event->accept();
        return;
    }
    if (turned.x() != 0 || event->modifiers() & Qt::ShiftModifier)
        state_.axis.scrollBy(-(turned.x() != 0 ? turned.x() : turned.y()) * 0.5);
    else if (event->modifiers() & Qt::AltModifier)
        down_.setValue(down_.value() - turned.y() / 4);
    else
        state_.axis.zoomBy(std::pow(2.0, -turned.y() / 240.0), event->position().x());
    axisMoved();
    event->accept();
}

ResultFrame SheetWidget::frameAt(int x) const {
    return std::clamp(asResult(state_.axis.songAt(x)), ResultFrame{0}, ResultFrame{} + state_.session->length());
}

void SheetWidget::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || state_.session->empty())
        return;
    const QPoint at = event->position().toPoint();
    if (state_.layout.ruler.contains(at)) {
        loopFrom_ = at.x();
        return;
    }
    if (pressInLane(at, event->modifiers()))
        return;
    const auto hit = state_.hitAt(at);
    if (!hit) {
        select(std::nullopt);
        emit placeChosen(frameAt(at.x()));
        return;
    }
    click(*hit, event->modifiers());
    const bool plain = (event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier)) == 0;
    const auto lane = state_.layout.laneAt(at);
    if (lane)
        emit placeChosen(frameAt(at.x()));
    if (plain && state_.showsLevels() && state_.layout.plot.contains(at))
        level_.press(state_, document_.sharedOutcome(), at, *hit);
    else if (plain && (state_.layout.ladder.contains(at) || state_.layout.plot.contains(at)))
        drag_.press(state_, document_.sharedOutcome(), at, *hit);
    else if (plain && lane && state_.showsCandidatesOf(*lane) && state_.playedBand(*lane).contains(at))
        mark_.press(state_, at, *hit, *lane);
}

/// Heads and thresholds of the guides' lanes come before everything else there.
bool SheetWidget::pressInLane(QPoint at, Qt::KeyboardModifiers keys) {
    if (const auto candidate = state_.candidateUnder(at)) {
        if (state_.judgedOf(*candidate).verdict != Verdict::hit) {
            takeIn(*candidate);
            return true;
        }
        if (const auto hit = state_.hitAt(at)) {
            click(*hit, keys);
            mark_.press(state_, at, *hit, candidate->mic);
            return true;
        }
    }
    if (const auto mic = state_.thresholdUnder(at)) {
        threshold_.press(state_, at, *mic);
        return true;
    }
    if (const auto grip = state_.seamUnder(at)) {
        auto chosen = SeamSelection::Seams{state_.seams, state_.seam}.clicked(grip->seam, keys);
        chooseSeams(std::move(chosen.all), chosen.current);
        if ((keys & (Qt::ShiftModifier | Qt::ControlModifier)) == 0)
            seamDrag_.press(state_, at, *grip);
        return true;
    }
    return false;
}

void SheetWidget::mouseMoveEvent(QMouseEvent* event) {
    if (state_.session->empty())
        return;
    const QPoint at = event->position().toPoint();
    const bool free = event->modifiers() & Qt::ControlModifier;
    pointer_ = at;
    if (threshold_.active()) {
        document_.perform(threshold_.move(state_, at), threshold_.gesture());
    } else if (seamDrag_.active()) {
        if (const auto edit = seamDrag_.move(state_, at))
            document_.perform(*edit, seamDrag_.gesture());
        else
            document_.dropGesture(seamDrag_.gesture());
    } else if (level_.active()) {
        levelTo(at);
    } else if (drag_.active()) {
        dragTo(at, free);
    } else if (mark_.active()) {
        state_.mark = mark_.move(state_, at, free);
        redraw();
    } else if (loopFrom_ && std::abs(at.x() - *loopFrom_) > 4) {
        setLoop({frameAt(std::min(at.x(), *loopFrom_)), frameAt(std::max(at.x(), *loopFrom_))});
    }
    const bool overLine = threshold_.active() || (!drag_.active() && !mark_.active() &&
                                                  !state_.candidateUnder(at) && state_.thresholdUnder(at));
    const auto seam = state_.seamUnder(at);
    const bool overEnd = seamDrag_.active() || (seam && seam->part != SheetState::SeamGrip::Part::middle);
    setCursor(overLine ? Qt::SplitVCursor : overEnd ? Qt::SplitHCursor : Qt::ArrowCursor);
    emit pointedAt(wordsFor(state_, at));
}

void SheetWidget::mouseReleaseEvent(QMouseEvent* event) {
    const QPoint at = event->position().toPoint();
    const bool free = event->modifiers() & Qt::ControlModifier;
    if (threshold_.active() || seamDrag_.active() || level_.active()) {
        dropDrags();
    } else if (drag_.active()) {
        dropDrags();
        state_.measurePlot();
        redraw();
    } else if (mark_.active()) {
        const auto edit = mark_.release(state_, at, free);
        dropDrags();
        redraw();
        if (edit)
            document_.perform(*edit);
    } else if (loopFrom_) {
        if (std::abs(at.x() - *loopFrom_) > 4)
            emit loopChosen(state_.loop);
        else
            emit placeChosen(frameAt(at.x()));
        loopFrom_.reset();
    }
}

/// Of an edit that follows the hand; 0: none.
int SheetWidget::gestureUnderWay() const {
    return threshold_.active()  ? threshold_.gesture()
           : seamDrag_.active() ? seamDrag_.gesture()
           : level_.active()    ? level_.gesture()
           : drag_.active()     ? drag_.gesture()
                                : 0;
}

void SheetWidget::keyPressEvent(QKeyEvent* event) {
    const bool editing = gestureUnderWay() != 0;
    const bool dragging = editing || mark_.active();
    if (event->key() != Qt::Key_Escape || !(dragging || state_.selected || state_.candidate || state_.seam))
        return QWidget::keyPressEvent(event);
    const int gesture = gestureUnderWay();
    dropDrags();
    if (editing)
        document_.dropGesture(gesture);
    if (!dragging) {
        select(std::nullopt);
        choose(std::nullopt);
        chooseSeams({}, std::nullopt);
    }
    redraw();
}

void SheetWidget::leaveEvent(QEvent*) {
    pointer_.reset();
    emit pointedAt({});
}

} // namespace lampo
