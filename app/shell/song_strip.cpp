#include "shell/song_strip.h"

#include "base/text.h"
#include "map/map_edits.h"
#include "map/place_text.h"
#include "session/pieces.h"

#include "timing/tightness.h"

#include <QContextMenuEvent>
#include <QMenu>
#include <QMouseEvent>
#include <QPainter>

#include <cmath>
#include <map>
#include <set>

namespace lampo {
namespace {

constexpr int nearPixels = 4;

} // namespace

SongStrip::SongStrip(Document& document, const SheetState& sheet, QWidget* parent)
    : QWidget(parent), document_(document), sheet_(sheet) {
    setAttribute(Qt::WA_OpaquePaintEvent); // all of it is painted here
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Song strip"));
    setToolTip(
        tr("The whole song; drag to go anywhere. In the row of names a drag makes a section and moves borders; the "
           "row below holds tempo and meter: drag a change, turn the wheel over it, double click for a new one."));
    setMouseTracking(true);
    setFocusPolicy(Qt::ClickFocus); // for Esc
    connect(&document_, &Document::proofChanged, this, qOverload<>(&QWidget::update));
    connect(&document_, &Document::changed, this, qOverload<>(&QWidget::update));
}

QSize SongStrip::sizeHint() const {
    return {400, line() * 4};
}

double SongStrip::toX(double frame) const {
    return frame / std::max(1.0, static_cast<double>(document_.session().extent().frames)) * width();
}

void SongStrip::setPlayhead(ResultFrame at) {
    playhead_ = at;
    update();
}

void SongStrip::setDifferences(std::vector<Range<SongFrame>> where) {
    differences_ = std::move(where);
    update();
}

int SongStrip::line() const {
    return QFontMetrics(textFont(0.85)).height();
}

SongFrame SongStrip::songAt(double x) const {
    const double length = static_cast<double>(document_.session().extent().frames);
    return SongFrame{std::llround(std::clamp(x / std::max(1, width()), 0.0, 1.0) * length)};
}

double SongStrip::barX(int bar) const {
    const Session& session = document_.session();
    return toX(MusicalMap(session.map, session.rate).barStart(bar));
}

int SongStrip::barUnder(double x) const {
    const Session& session = document_.session();
    return MusicalMap(session.map, session.rate).barAt(songAt(x));
}

int SongStrip::barLineNear(double x) const {
    const int bar = barUnder(x);
    return x - barX(bar) < barX(bar + 1) - x ? bar : bar + 1;
}

std::optional<int> SongStrip::borderUnder(QPointF at) const {
    if (!inNames(at))
        return std::nullopt;
    for (const Section& section : document_.session().sections)
        for (const int bar : {section.firstBar, section.firstBar + section.bars})
            if (!section.beats && std::abs(barX(bar) - at.x()) <= nearPixels)
                return bar;
    return std::nullopt;
}

std::vector<StripMark> SongStrip::marks() const {
    const MapData& map = document_.session().map;
    std::map<BarBeat, QString> texts;
    for (const TempoChange& change : map.tempos)
        texts[placeOf(change)] = QString::fromStdString(trimmedNumber(change.bpm.value, 1)) +
                                 (change.ramp ? QStringLiteral(" …") : QString());
    for (const MeterChange& change : map.meters) {
        QString& text = texts[placeOf(change)];
        text += (text.isEmpty() ? QString() : QStringLiteral("  ")) +
                QStringLiteral("%1/%2").arg(change.meter.beats).arg(change.meter.unit);
    }
    const MusicalMap lines(map, document_.session().rate);
    const QFontMetrics metrics(textFont(0.8));
    std::vector<StripMark> found;
    found.reserve(texts.size());
    for (const auto& [place, text] : texts)
        found.push_back(
            {place, text, QRectF(toX(lines.at(place)), line() + 7, metrics.horizontalAdvance(text) + 6, line())});
    return found;
}

/// Of several that lie over each other the last, which is drawn on top.
std::optional<BarBeat> SongStrip::markUnder(QPointF at) const {
    std::optional<BarBeat> under;
    for (const StripMark& mark : marks())
        if (mark.box.contains(at))
            under = mark.place;
    return under;
}

void SongStrip::paintSections(QPainter& painter, const MusicalMap& map) const {
    const Session& session = document_.session();
    for (const Piece& piece : piecesOf(session))
        if (piece.take)
            painter.fillRect(
                QRectF(QPointF(toX(piece.range.begin), line() + 2), QPointF(toX(piece.range.end), line() + 6)),
                sheet_.ink.ofTake(session, *piece.take));
    for (const Section& section : session.sections) {
        const Range<SongFrame> range = rangeOf(section, map);
        const double left = toX(range.begin);
        const double right = toX(range.end);
        painter.setPen(sheet_.ink.barLine);
        painter.drawLine(QPointF(left, 0), QPointF(left, section.beats ? line() : height()));
        painter.setPen(sheet_.ink.text);
        painter.drawText(QRectF(left + 4, 0, right - left - 6, line()), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(QString::fromStdString(section.name), Qt::ElideRight,
                                                          static_cast<int>(right - left - 6)));
    }
}

/// Each with its bar line and what it says; where most have no room for that, a curve of the tempo instead.
void SongStrip::paintMarks(QPainter& painter) const {
    painter.setFont(textFont(0.8));
    const auto all = marks();
    const auto fits = [&](std::size_t i) {
        return i + 1 == all.size() || all[i].box.right() <= all[i + 1].box.left();
    };
    std::size_t crowded = 0;
    for (std::size_t i = 0; i < all.size(); ++i)
        crowded += !fits(i);
    if (2 * crowded > all.size())
        return paintTempoCurve(painter);
    for (std::size_t i = 0; i < all.size(); ++i) {
        const QRectF& box = all[i].box;
        painter.setPen(sheet_.ink.barLine);
        painter.drawLine(box.topLeft(), box.bottomLeft());
        painter.setPen(sheet_.ink.faint);
        if (fits(i))
            painter.drawText(box.adjusted(3, 0, 3, 0), Qt::AlignLeft | Qt::AlignVCenter, all[i].text);
    }
}

/// From the slowest tempo at the bottom of the row to the fastest at its top, with both in words.
void SongStrip::paintTempoCurve(QPainter& painter) const {
    const MapData& map = document_.session().map;
    const MusicalMap lines(map, document_.session().rate);
    const auto [slowest, fastest] =
        std::minmax_element(map.tempos.begin(), map.tempos.end(),
                            [](const TempoChange& a, const TempoChange& b) { return a.bpm.value < b.bpm.value; });
    const double low = slowest->bpm.value, high = fastest->bpm.value;
    const double top = line() + 9, height = line() - 4;
    const auto y = [&](double bpm) { return top + height * (high > low ? (high - bpm) / (high - low) : 0.5); };
    QPolygonF curve;
    for (std::size_t i = 0; i < map.tempos.size(); ++i) {
        const TempoChange& change = map.tempos[i];
        if (i > 0 && !map.tempos[i - 1].ramp)
            curve << QPointF(toX(lines.at(placeOf(change))), curve.back().y());
        curve << QPointF(toX(lines.at(placeOf(change))), y(change.bpm.value));
    }
    curve << QPointF(width(), curve.back().y());
    painter.setPen(QPen(sheet_.ink.text, 1));
    painter.drawPolyline(curve);
    const QString words = tr("%1 to %2 BPM").arg(low, 0, 'f', 1).arg(high, 0, 'f', 1);
    QRectF box(4, line() + 7, painter.fontMetrics().horizontalAdvance(words) + 4, line());
    painter.fillRect(box, sheet_.ink.margin);
    painter.setPen(sheet_.ink.faint);
    painter.drawText(box, Qt::AlignLeft | Qt::AlignVCenter, words);
}

void SongStrip::paintLateness(QPainter& painter) const {
    const double top = 2 * line() + 7;
    const double middle = (top + height()) / 2.0;
    const double half = (height() - top - 4) / 2.0;
    const double reach = sheet_.plotReach;
    painter.setPen(sheet_.ink.rule);
    painter.drawLine(QPointF(0, middle), QPointF(width(), middle));
    for (const Moment moment : {Moment::asPlayed, Moment::asLanded}) {
        painter.setPen(moment == Moment::asPlayed ? sheet_.ink.faint : sheet_.ink.text);
        std::vector<double> farthest(static_cast<std::size_t>(std::max(1, width()))); // ms, in each pixel
        for (const Landing& landing : document_.outcome().landings) {
            const double x = std::clamp(toX(landing.played), 0.0, static_cast<double>(farthest.size() - 1));
            const double late = deviation(landing, moment, document_.session().rate).value;
            double& known = farthest[static_cast<std::size_t>(x)];
            if (std::abs(late) > std::abs(known))
                known = late;
        }
        QList<QLineF> bars;
        for (std::size_t x = 0; x < farthest.size(); ++x)
            if (farthest[x] != 0) {
                const double away = std::clamp(farthest[x] / reach, -1.0, 1.0) * half;
                bars << QLineF(static_cast<double>(x), middle, static_cast<double>(x), middle + away);
            }
        painter.drawLines(bars);
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(sheet_.ink.alarm);
    std::set<int> marked; // one dot for each pixel is all one can see
    for (const ProofPlace& place : document_.proof().proof.places)
        if (const double x = toX(asSong(place.where.begin));
            place.state == ProofState::open && marked.insert(static_cast<int>(x)).second)
            painter.drawEllipse(QPointF(x, height() - 3.0), 2, 2);
}

void SongStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), sheet_.ink.margin);
    painter.setFont(textFont(0.85));
    if (!document_.session().empty()) {
        for (const Range<SongFrame>& range : differences_) {
            const double left = toX(range.begin);
            const double right = std::max(left + 2, toX(range.end));
            painter.fillRect(QRectF(left, line() + 7, right - left, height() - line() - 8),
                             QBrush(sheet_.ink.accent, Qt::BDiagPattern));
        }
        painter.setRenderHint(QPainter::Antialiasing);
        paintSections(painter, MusicalMap(document_.session().map, document_.session().rate));
        paintMarks(painter);
        painter.setRenderHint(QPainter::Antialiasing, false);
        paintLateness(painter);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(sheet_.ink.text, 1.2));
        painter.drawRect(QRectF(QPointF(toX(sheet_.axis.firstFrame()) + 0.6, 0.6),
                                QPointF(toX(sheet_.axis.lastFrame()) - 0.6, height() - 1.6)));
        painter.setPen(QPen(sheet_.ink.accent, 1.2));
        const double x = toX(playhead_);
        painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    }
    painter.setPen(sheet_.ink.rule);
    painter.drawLine(rect().bottomLeft(), rect().bottomRight());
}

void SongStrip::go(QPointF at) {
    emit wentTo(asResult(songAt(at.x())));
}

void SongStrip::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton || document_.session().empty())
        return;
    const QPointF at = event->position();
    if (const auto border = borderUnder(at))
        return tool_.press(StripTool::Border{*border}, document_.session(), Document::newGesture());
    if (const auto mark = markUnder(at); mark && *mark > BarBeat{})
        return tool_.press(StripTool::Mark{*mark}, document_.session(), Document::newGesture());
    if (inNames(at))
        pressedInNames_ = at;
    else
        go(at);
}

void SongStrip::mouseMoveEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    if (!(event->buttons() & Qt::LeftButton)) {
        wheelGesture_ = Document::newGesture(); // turning without moving is one step
        const bool grips = borderUnder(at) || markUnder(at).value_or(BarBeat{}) > BarBeat{};
        setCursor(grips ? Qt::SizeHorCursor : Qt::ArrowCursor);
        return;
    }
    if (pressedInNames_ && std::abs(at.x() - pressedInNames_->x()) > nearPixels) {
        tool_.press(StripTool::NewSection{barUnder(pressedInNames_->x())}, document_.session(),
                    Document::newGesture());
        pressedInNames_.reset();
    }
    if (tool_.active()) {
        document_.perform(tool_.move(barUnder(at.x()), barLineNear(at.x())), tool_.gesture());
    } else if (!pressedInNames_) {
        go(at);
    }
}

void SongStrip::mouseReleaseEvent(QMouseEvent*) {
    if (const auto pressed = std::exchange(pressedInNames_, std::nullopt))
        go(*pressed);
    tool_.release();
}

/// A tempo change where there is none.
void SongStrip::mouseDoubleClickEvent(QMouseEvent* event) {
    const Session& session = document_.session();
    if (session.empty() || !inMarks(event->position()))
        return;
    const int bar = barUnder(event->position().x());
    document_.perform(SetMap{withTempoAt(session.map, session.rate, bar), "Change at bar " + std::to_string(bar)});
}

/// Over a change of tempo: faster or slower by a tenth, with Shift by one; one turn of the wheel is one step back.
void SongStrip::wheelEvent(QWheelEvent* event) {
    const auto place = markUnder(event->position());
    MapData map = document_.session().map;
    const auto tempo = std::find_if(map.tempos.begin(), map.tempos.end(),
                                    [&](const TempoChange& c) { return placeOf(c) == place; });
    if (!place || tempo == map.tempos.end())
        return QWidget::wheelEvent(event);
    const QPoint turned = event->angleDelta();
    const int turns = turned.y() != 0 ? turned.y() : turned.x();
    const double step = event->modifiers() & Qt::ShiftModifier ? 1 : 0.1;
    tempo->bpm.value = std::clamp(std::round((tempo->bpm.value + (turns > 0 ? step : -step)) * 1000) / 1000,
                                  slowestTempo.value, fastestTempo.value);
    const std::string words = "Tempo " + trimmedNumber(tempo->bpm.value, 1) + " at bar " + placeText(*place);
    document_.perform(SetMap{map, words}, wheelGesture_);
}

void SongStrip::contextMenuEvent(QContextMenuEvent* event) {
    const Session session = document_.session();
    if (session.empty())
        return;
    const int bar = barUnder(event->pos().x()), near = barLineNear(event->pos().x());
    const Section* section = session.sectionOf(bar);
    const auto perform = [this](const Edit& edit) { return [this, edit] { document_.perform(edit); }; };
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName(QStringLiteral("Strip menu"));
    menu->addAction(
        tr("Make a section of bar %1").arg(bar),
        perform(SetSections{withSection(session.sections, {tr("Bar %1").arg(bar).toStdString(), bar, 1, {}, {}}),
                            "Section at bar " + std::to_string(bar)}));
    if (section && near > section->firstBar && near < section->firstBar + section->bars)
        menu->addAction(tr("Split %1 at bar %2").arg(QString::fromStdString(section->name)).arg(near),
                        perform(SetSections{withSplit(session.sections, near), "Split " + section->name}));
    if (section) {
        auto fewer = session.sections;
        std::erase(fewer, *section);
        menu->addAction(tr("Delete the section %1").arg(QString::fromStdString(section->name)),
                        perform(SetSections{fewer, "Delete section " + section->name}));
    }
    menu->addSeparator();
    if (const auto mark = markUnder(event->pos()); mark && *mark > BarBeat{})
        menu->addAction(
            tr("Delete the change at bar %1").arg(QString::fromStdString(placeText(*mark))),
            perform(SetMap{withoutChange(session.map, *mark), "Delete the change at bar " + placeText(*mark)}));
    else if (bar > 1)
        menu->addAction(
            tr("Change the tempo at bar %1").arg(bar),
            perform(SetMap{withTempoAt(session.map, session.rate, bar), "Change at bar " + std::to_string(bar)}));
    menu->popup(event->globalPos());
}

void SongStrip::keyPressEvent(QKeyEvent* event) {
    if (event->key() != Qt::Key_Escape || !tool_.active())
        return QWidget::keyPressEvent(event);
    tool_.release();
    document_.dropGesture(tool_.gesture());
}

} // namespace lampo
