#include "shell/song_strip.h"

#include "session/pieces.h"

#include "timing/tightness.h"

#include <QMouseEvent>
#include <QPainter>

#include <cmath>
#include <map>
#include <set>

namespace lampo {

SongStrip::SongStrip(Document& document, const SheetState& sheet, QWidget* parent)
    : QWidget(parent), document_(document), sheet_(sheet) {
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    setAccessibleName(tr("Song strip"));
    setToolTip(tr("The whole song; drag to go anywhere"));
    connect(&document_, &Document::changed, this, qOverload<>(&QWidget::update));
}

QSize SongStrip::sizeHint() const {
    return {400, QFontMetrics(textFont(0.85)).height() * 3};
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

void SongStrip::paintSections(QPainter& painter) const {
    const Session& session = document_.session();
    const MusicalMap map(session.map, session.rate);
    const int line = painter.fontMetrics().height();
    for (const Piece& piece : piecesOf(session))
        if (piece.take)
            painter.fillRect(QRectF(QPointF(toX(static_cast<double>(piece.range.begin.frame)), line + 2),
                                    QPointF(toX(static_cast<double>(piece.range.end.frame)), line + 6)),
                             sheet_.ink.ofTake(session, *piece.take));
    for (const Section& section : session.sections) {
        const double left = toX(static_cast<double>(map.barStart(section.firstBar).frame));
        const double right = toX(static_cast<double>(map.barStart(section.firstBar + section.bars).frame));
        painter.setPen(sheet_.ink.barLine);
        painter.drawLine(QPointF(left, 0), QPointF(left, height()));
        painter.setPen(sheet_.ink.text);
        painter.drawText(QRectF(left + 4, 0, right - left - 6, line), Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(QString::fromStdString(section.name), Qt::ElideRight,
                                                          static_cast<int>(right - left - 6)));
    }
}

void SongStrip::paintLateness(QPainter& painter) const {
    const int line = painter.fontMetrics().height();
    const double middle = (line + 6 + height()) / 2.0;
    const double half = (height() - line - 10) / 2.0;
    const double reach = sheet_.plotReach;
    painter.setPen(sheet_.ink.rule);
    painter.drawLine(QPointF(0, middle), QPointF(width(), middle));
    for (const Moment moment : {Moment::asPlayed, Moment::asLanded}) {
        painter.setPen(moment == Moment::asPlayed ? sheet_.ink.faint : sheet_.ink.text);
        std::map<int, QLineF> farthest; // in each pixel
        for (const Landing& landing : document_.outcome().landings) {
            const double late = deviation(landing, moment, document_.session().rate).value;
            const double x = toX(static_cast<double>(landing.played.frame));
            const QLineF bar(x, middle, x, middle + std::clamp(late / reach, -1.0, 1.0) * half);
            const auto [known, isNew] = farthest.try_emplace(static_cast<int>(x), bar);
            if (!isNew && std::abs(bar.dy()) > std::abs(known->second.dy()))
                known->second = bar;
        }
        for (const auto& [x, away] : farthest)
            painter.drawLine(away);
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(sheet_.ink.alarm);
    std::set<int> marked; // one dot for each pixel is all one can see
    for (const Warning& warning : document_.outcome().warnings)
        if (const double x = toX(static_cast<double>(warning.at.frame)); marked.insert(static_cast<int>(x)).second)
            painter.drawEllipse(QPointF(x, height() - 3.0), 2, 2);
}

void SongStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), sheet_.ink.margin);
    painter.setFont(textFont(0.85));
    if (!document_.session().empty()) {
        const int line = painter.fontMetrics().height();
        for (const Range<SongFrame>& range : differences_) {
            const double left = toX(static_cast<double>(range.begin.frame));
            const double right = std::max(left + 2, toX(static_cast<double>(range.end.frame)));
            painter.fillRect(QRectF(left, line + 7, right - left, height() - line - 8),
                             QBrush(sheet_.ink.accent, Qt::BDiagPattern));
        }
        painter.setRenderHint(QPainter::Antialiasing);
        paintSections(painter);
        painter.setRenderHint(QPainter::Antialiasing, false);
        paintLateness(painter);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(sheet_.ink.text, 1.2));
        painter.drawRect(QRectF(QPointF(toX(sheet_.axis.firstFrame()) + 0.6, 0.6),
                                QPointF(toX(sheet_.axis.lastFrame()) - 0.6, height() - 1.6)));
        painter.setPen(QPen(sheet_.ink.accent, 1.2));
        const double x = toX(static_cast<double>(playhead_.frame));
        painter.drawLine(QPointF(x, 0), QPointF(x, height()));
    }
    painter.setPen(sheet_.ink.rule);
    painter.drawLine(rect().bottomLeft(), rect().bottomRight());
}

void SongStrip::go(QPointF at) {
    const auto length = document_.session().extent().frames;
    emit wentTo({std::clamp<std::int64_t>(std::llround(at.x() / std::max(1, width()) * static_cast<double>(length)),
                                          0, length)});
}

void SongStrip::mousePressEvent(QMouseEvent* event) {
    go(event->position());
}

void SongStrip::mouseMoveEvent(QMouseEvent* event) {
    if (event->buttons() & Qt::LeftButton)
        go(event->position());
}

} // namespace lampo
