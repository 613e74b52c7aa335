#include "sheet/sheet_widget.h"

#include "base/text.h"
#include "sheet/candidate_painter.h"
#include "sheet/ladder_painter.h"
#include "sheet/lane_painter.h"
#include "sheet/level_painter.h"
#include "sheet/patch_painter.h"
#include "sheet/plot_painter.h"
#include "sheet/ruler_painter.h"
#include "sheet/seam_painter.h"
#include "sheet/sheet_words.h"

#include <QPaintEvent>
#include <QPainter>

#include <cmath>

namespace lampo {

SheetWidget::SheetWidget(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setAttribute(Qt::WA_OpaquePaintEvent); // all of it is painted here
    setMouseTracking(true);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Sheet"));
    setMinimumSize(320, 240);
    across_.setAccessibleName(tr("Scroll along the song"));
    down_.setAccessibleName(tr("Scroll through the mics"));
    connect(&across_, &QScrollBar::valueChanged, this, [this](int value) {
        if (settingBars_)
            return;
        state_.axis.scrollTo(value * state_.axis.framesPerPixel());
        axisMoved();
    });
    connect(&down_, &QScrollBar::valueChanged, this, [this] { relayout(); });
    connect(&openFolder_, &QPushButton::clicked, this, &SheetWidget::folderWanted);
    connect(&openDemo_, &QPushButton::clicked, this, &SheetWidget::demoWanted);
    connect(&document_, &Document::changed, this, &SheetWidget::documentChanged);
    connect(&document_, &Document::wavesChanged, this, &SheetWidget::redraw);
    connect(&document_, &Document::onlyChanged, this, &SheetWidget::showOnly);
    state_.ink = paperInk();
    documentChanged();
}

void SheetWidget::documentChanged() {
    state_.session = &document_.session();
    state_.outcome = &document_.outcome();
    if (!drag_.stands(*state_.outcome)) {
        state_.measurePlot(); // its scale holds still under the hand
        if (!threshold_.active() && !seamDrag_.active() && !level_.active())
            dropDrags();
    }
    if (state_.candidate && !state_.exists(*state_.candidate))
        state_.candidate.reset();
    findSelectionAgain();
    findSeamsAgain();
    planRaw();
    relayout();
}

int SheetWidget::sheetWidth() const {
    return std::max(1, width() - down_.sizeHint().width());
}

void SheetWidget::relayout() {
    const int barHeight = across_.sizeHint().height();
    const QSize size(sheetWidth(), std::max(1, height() - barHeight));
    const std::size_t lanes = state_.session->mics.size() + state_.session->companions.size();
    std::map<MicIndex, int> own;
    for (MicIndex lane; lane < lanes && !laneHeights_.empty(); ++lane)
        if (const auto given = laneHeights_.find(laneName(lane)); given != laneHeights_.end())
            own[lane] = given->second;
    const SheetLayout before = std::exchange(
        state_.layout, SheetLayout::of(size, lanes, QFontMetrics(textFont(0.85)).height(), down_.value(), own));
    state_.axis.fit(state_.session->extent(), size.width());
    across_.setGeometry(0, size.height(), size.width(), barHeight);
    down_.setGeometry(size.width(), state_.layout.lanesArea.top(), width() - size.width(),
                      state_.layout.lanesArea.height());
    down_.setRange(0, std::max(0, state_.layout.lanesHeight - state_.layout.lanesArea.height()));
    down_.setPageStep(state_.layout.lanesArea.height());
    down_.setVisible(down_.maximum() > 0);
    placeEmptyButtons();
    if (state_.layout != before)
        emit layoutChanged();
    axisMoved();
}

SheetWidget::LaneName SheetWidget::laneName(MicIndex lane) const {
    const auto& mics = state_.session->mics;
    const bool isMic = lane < mics.size();
    return {isMic, isMic ? mics[lane].stem : state_.session->companions[lane - mics.size()].name};
}

void SheetWidget::setLaneHeight(MicIndex lane, std::optional<int> pixels) {
    if (pixels)
        laneHeights_[laneName(lane)] = *pixels;
    else
        laneHeights_.erase(laneName(lane));
    relayout();
}

void SheetWidget::setRaw(bool on) {
    raw_ = on;
    planRaw();
    redraw();
}

void SheetWidget::planRaw() {
    state_.raw = raw_ && !state_.session->empty() ? rawPlan(*state_.session, *state_.outcome) : nullptr;
}

void SheetWidget::placeEmptyButtons() {
    const bool empty = state_.session->empty();
    across_.setVisible(!empty);
    int x = width() / 2 - (openFolder_.sizeHint().width() + openDemo_.sizeHint().width() + 12) / 2;
    for (QPushButton* button : {&openFolder_, &openDemo_}) {
        button->setVisible(empty);
        button->setGeometry(QRect(QPoint(x, height() / 2 + 60), button->sizeHint()));
        x += button->width() + 12;
    }
}

void SheetWidget::axisMoved() {
    settingBars_ = true;
    const double perPixel = state_.axis.framesPerPixel();
    across_.setRange(0, static_cast<int>(std::max(0.0, static_cast<double>(state_.axis.length().frames) / perPixel -
                                                           state_.axis.width())));
    across_.setPageStep(state_.axis.width());
    across_.setSingleStep(state_.axis.width() / 10);
    across_.setValue(static_cast<int>(state_.axis.firstFrame() / perPixel));
    settingBars_ = false;
    emit axisChanged();
    redraw();
}

void SheetWidget::redraw() {
    stale_ = true;
    update();
}

void SheetWidget::setInk(const Ink& ink) {
    state_.ink = ink;
    redraw();
}

void SheetWidget::setShow(Show show) {
    state_.show = show;
    redraw();
}

void SheetWidget::select(std::optional<HitIndex> hit, bool revealIt) {
    if (hit && revealIt)
        reveal(state_.landingOf(*hit));
    selectMany(hit ? std::vector{*hit} : std::vector<HitIndex>{}, hit);
}

void SheetWidget::selectMany(std::vector<HitIndex> hits, std::optional<HitIndex> current) {
    std::sort(hits.begin(), hits.end());
    if (state_.selection == hits && state_.selected == current)
        return;
    state_.selection = std::move(hits);
    state_.selected = current;
    state_.candidate.reset();
    chosen_.remember(state_, {state_.selection, current});
    redraw();
    emit hitSelected(current);
}

void SheetWidget::click(HitIndex hit, Qt::KeyboardModifiers keys) {
    auto chosen = HitSelection::Hits{state_.selection, state_.selected}.clicked(hit, keys);
    selectMany(std::move(chosen.all), chosen.current);
}

void SheetWidget::findSelectionAgain() {
    auto again = chosen_.findAgain(state_);
    if (HitSelection::Hits{state_.selection, state_.selected} == again)
        return;
    state_.selection = std::move(again.all);
    state_.selected = again.current;
    emit hitSelected(state_.selected);
}

void SheetWidget::fitChosen() {
    const auto around = [this](ResultFrame at, FrameCount before, FrameCount behind) {
        showRange(static_cast<double>((at - before).frame), static_cast<double>((at + behind).frame));
    };
    const auto ms = [this](double value) { return toFrames(Milliseconds{value}, state_.session->rate); };
    if (state_.choosesSeams && state_.seam) {
        const Seam& seam = state_.outcome->plan->seams[*state_.seam];
        around(seam.range.end, seam.range.length() + ms(12), ms(5) + (seam.between ? seam.ahead + ms(10) : ms(15)));
    } else if (state_.selected) {
        around(state_.landingOf(*state_.selected), ms(40), ms(160));
    } else {
        const MusicalMap map(state_.session->map, state_.session->rate);
        const int bar = map.barAt(state_.axis.songAt(state_.axis.width() / 2.0));
        showRange(static_cast<double>(map.barStart(bar).frame), static_cast<double>(map.barStart(bar + 1).frame));
    }
}

void SheetWidget::setChoosesSeams(bool on) {
    state_.choosesSeams = on;
    redraw();
}

void SheetWidget::choose(std::optional<SheetState::CandidateRef> candidate) {
    if (candidate) {
        reveal(asResult(state_.candidateAt(*candidate)));
        emit pointedAt(wordsFor(state_, *candidate));
    }
    state_.candidate = candidate;
    redraw();
}

void SheetWidget::setShowsCandidates(bool on) {
    state_.showsCandidates = on;
    redraw();
}

void SheetWidget::setAllStrokes(bool on) {
    state_.allStrokes = on;
    redraw();
}

void SheetWidget::takeIn(SheetState::CandidateRef ref) {
    const Candidate& candidate = state_.candidateOf(ref);
    const Placed& where = state_.outcome->choice.pieces[ref.piece].laid->where;
    const Mic& mic = state_.session->mics[ref.mic];
    Correction correction{Correction::Kind::add, state_.session->takes[where.take].letter, candidate.at};
    correction.voice = voiceOf(mic.role);
    correction.mic = mic.stem;
    chosen_.await({correction.take, candidate.at}, where.shift);
    document_.perform(Correct{correction});
}

void SheetWidget::dragTo(QPoint at, bool free) {
    if (const auto edit = drag_.move(state_, at, free))
        document_.perform(*edit, drag_.gesture());
    else
        document_.dropGesture(drag_.gesture());
    if (drag_.active())
        state_.drag = drag_.shown(state_);
    redraw();
}

void SheetWidget::showOnly() {
    state_.only = 0;
    for (const std::string& stem : document_.editedOnly())
        state_.only |= onlyMic(state_.session->micNamed(stem));
    redraw();
}

void SheetWidget::dropDrags() {
    threshold_.release();
    level_.release();
    seamDrag_.release();
    drag_.release();
    mark_.cancel();
    state_.drag.reset();
    state_.mark.reset();
}

void SheetWidget::setPlayhead(ResultFrame at, bool follow) {
    if (follow) {
        const double x = state_.axis.toX(at);
        if (x < 0 || x > state_.axis.width() * 0.95) {
            state_.axis.scrollTo(static_cast<double>(at.frame) -
                                 0.05 * state_.axis.width() * state_.axis.framesPerPixel());
            axisMoved();
        }
    }
    const auto strip = [this] { return QRect(static_cast<int>(state_.axis.toX(playhead_)) - 3, 0, 7, height()); };
    update(strip());
    playhead_ = at;
    update(strip());
}

void SheetWidget::setLoop(Range<ResultFrame> loop) {
    state_.loop = loop;
    redraw();
}

void SheetWidget::reveal(ResultFrame at) {
    state_.axis.reveal(static_cast<double>(at.frame));
    axisMoved();
}

void SheetWidget::zoomBy(double factor) {
    double x = state_.axis.width() / 2.0;
    if (state_.selected)
        x = std::clamp(state_.axis.toX(state_.landingOf(*state_.selected)), 0.0,
                       static_cast<double>(state_.axis.width()));
    state_.axis.zoomBy(factor, x);
    axisMoved();
}

void SheetWidget::heightenWaves(double factor, std::optional<MicIndex> lane) {
    double& height = lane ? state_.ownHeights.try_emplace(*lane, 1.0).first->second : state_.waveHeight;
    height = std::clamp(height * factor, lane ? 1 / SheetState::highestWaves : 1.0, SheetState::highestWaves);
    redraw();
}

void SheetWidget::resetWaves() {
    state_.waveHeight = 1;
    state_.ownHeights.clear();
    redraw();
}

void SheetWidget::showAll() {
    state_.axis.showAll();
    axisMoved();
}

void SheetWidget::showRange(double begin, double end) {
    state_.axis.showRange(begin, end);
    axisMoved();
}

void SheetWidget::paintPicture() {
    const QSize size(sheetWidth(), state_.layout.plot.bottom() + 1);
    if (picture_.size() != size)
        picture_ = QImage(size, QImage::Format_RGB32);
    paintLanes(picture_, state_, document_);
    QPainter painter(&picture_);
    paintSeams(painter, state_);
    paintPatches(painter, state_);
    paintOnly(painter, state_);
    paintCandidates(painter, state_);
    paintRuler(painter, state_);
    paintLadder(painter, state_);
    if (state_.showsLevels())
        paintLevels(painter, state_);
    else
        paintPlot(painter, state_);
    stale_ = false;
}

void SheetWidget::paintEmpty(QPainter& painter) const {
    painter.fillRect(rect(), state_.ink.paper);
    painter.setPen(state_.ink.text);
    painter.setFont(textFont(1.5));
    painter.drawText(rect().adjusted(0, 0, 0, -60), Qt::AlignCenter,
                     tr("Drop a folder of drum recordings here, or open the demo"));
    painter.setPen(state_.ink.faint);
    painter.setFont(textFont());
    painter.drawText(
        rect().adjusted(0, 30, 0, 0), Qt::AlignCenter,
        tr("WAV, FLAC or AIFF files, one for each mic, of one take or of several. Lampo never writes to them."));
}

void SheetWidget::paintEvent(QPaintEvent* event) {
    QPainter painter(this);
    if (state_.session->empty())
        return paintEmpty(painter);
    if (stale_)
        paintPicture();
    for (const QRect& beside : QRegion(event->rect()).subtracted(picture_.rect()))
        painter.fillRect(beside, state_.ink.margin);
    painter.drawImage(event->rect().intersected(picture_.rect()), picture_,
                      event->rect().intersected(picture_.rect()));
    const double x = state_.axis.toX(playhead_);
    if (0 <= x && x <= state_.axis.width()) {
        painter.setPen(QPen(state_.ink.accent, 1.5));
        painter.drawLine(QPointF(x, 0), QPointF(x, state_.layout.plot.bottom()));
    }
    if (hasFocus()) {
        painter.setPen(state_.ink.accent);
        painter.drawLine(0, 0, state_.axis.width(), 0);
    }
}

void SheetWidget::resizeEvent(QResizeEvent*) {
    relayout();
}

} // namespace lampo
