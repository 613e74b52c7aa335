#include "takes/takes_painter.h"

#include "session/pieces.h"
#include "takes/takes_words.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double dearest = 10; ///< cost of a bar whose rule is as long as the bar

class TakesPainter {
public:
    TakesPainter(QPainter& painter, const TakesState& state, Document& document)
        : painter_(painter), state_(state), document_(document), ink_(state.sheet->ink), session_(state.session()),
          map_(session_.map, session_.rate), pieces_(piecesOf(session_)) {}

    void paint() {
        painter_.setClipRect(QRect(0, 0, static_cast<int>(width()), state_.layout.all().bottom() + 1));
        for (TakeIndex take; take < state_.layout.rows.size(); ++take)
            paintRow(take);
        paintComp();
        paintBars();
        paintBorders();
        paintChosen();
        paintHeads();
    }

private:
    double width() const { return state_.layout.left + state_.sheet->axis.width(); }
    bool visible(Range<SongFrame> range) const {
        return state_.toX(range.end) >= state_.layout.left && state_.toX(range.begin) <= width();
    }
    QRectF between(Range<SongFrame> range, const QRect& row) const {
        const double left = std::max(state_.toX(range.begin), static_cast<double>(state_.layout.left));
        return {left, row.top() + 0.0, std::min(state_.toX(range.end), width()) - left, row.height() + 0.0};
    }

    void paintRow(TakeIndex take) {
        const QRect row = state_.layout.rows[take];
        painter_.fillRect(row, ink_.paper);
        for (const Piece& piece : pieces_)
            if (piece.take == take && isOwn(piece) && visible(piece.range))
                painter_.fillRect(between(piece.range, row), ink_.ofTake(session_, take));
        if (state_.sweep && state_.sweep->take == take)
            painter_.fillRect(between(state_.sweep->range, row), ink_.ofTake(session_, take));
        const FrameCount slid = state_.slid && state_.slid->take == take ? state_.slid->by : FrameCount{};
        for (std::size_t part = 0; part < session_.form.size(); ++part) {
            const SongFrame begin = session_.form[part].begin;
            const SongFrame end =
                part + 1 < session_.form.size() ? session_.form[part + 1].begin : SongFrame{0} + session_.extent();
            if (session_.form[part].moved && visible({begin, end}))
                paintWave(take, {begin, end}, session_.takes[take].shift() + *session_.form[part].moved + slid);
        }
        paintMeasures(take);
    }

    /// Whether a piece is a take in its own place.
    bool isOwn(const Piece& piece) const {
        return ownShift(session_, *piece.take, piece.range.begin) == piece.shift;
    }

    bool sounds(TakeIndex take, SongFrame at, SourceToSong shift) const {
        const auto piece =
            std::partition_point(pieces_.begin(), pieces_.end(), [&](const Piece& p) { return p.range.end <= at; });
        return piece != pieces_.end() && piece->take == take && piece->shift == shift;
    }

    /// The highest of the guides in each column, each in relation to its own loudest sample.
    void paintWave(TakeIndex take, Range<SongFrame> range, SourceToSong shift) {
        const QRect row = state_.layout.rows[take];
        const double perPixel = state_.sheet->axis.framesPerPixel();
        const int first = std::max(0, static_cast<int>(state_.toX(range.begin)) - state_.layout.left);
        const int last =
            std::min(state_.sheet->axis.width(), static_cast<int>(state_.toX(range.end)) - state_.layout.left);
        if (first >= last)
            return;
        std::vector<float> heights(static_cast<std::size_t>(last - first));
        const auto sourceAt = [&](double x) { return state_.sheet->axis.songAt(x) - shift; };
        for (MicIndex mic; mic < session_.mics.size(); ++mic) {
            WaveSource* wave = session_.mics[mic].guide && !session_.takes[take].files[mic].empty()
                                   ? document_.wave(session_.takes[take].files[mic])
                                   : nullptr;
            if (!wave)
                continue;
            wave->prepare({sourceAt(first), sourceAt(last + 1) + FrameCount{1}}, perPixel);
            const float scale = 1 / std::max(wave->loudest(), 1e-4F);
            for (int x = first; x < last; ++x) {
                const Extent extent = wave->extent({sourceAt(x), sourceAt(x + 1) + FrameCount{1}});
                float& height = heights[static_cast<std::size_t>(x - first)];
                height = std::max(height, scale * std::max(std::abs(extent.low), std::abs(extent.high)));
            }
        }
        QList<QLineF> sounding, silent;
        const double middle = row.center().y(), half = row.height() * 0.44;
        for (int x = first; x < last; ++x) {
            const double high = half * heights[static_cast<std::size_t>(x - first)];
            const QLineF line(state_.layout.left + x, middle - high, state_.layout.left + x, middle + high);
            (sounds(take, state_.sheet->axis.songAt(x + 0.5), shift) ? sounding : silent) << line;
        }
        painter_.setRenderHint(QPainter::Antialiasing, false);
        painter_.setPen(ink_.barLine);
        painter_.drawLines(silent);
        painter_.setPen(ink_.text);
        painter_.drawLines(sounding);
    }

    /// At the foot of each bar a rule, the shorter the better; marks as dots; a cross where the bar is spoiled.
    void paintMeasures(TakeIndex take) {
        const QRect row = state_.layout.rows[take];
        for (int bar = map_.barAt(state_.toFrame(state_.layout.left));; ++bar) {
            const Range<SongFrame> range{map_.barStart(bar), map_.barStart(bar + 1)};
            const double left = state_.toX(range.begin), right = state_.toX(range.end);
            if (left > width())
                return;
            const BarMeasure* measure = state_.measures.of(take, bar);
            painter_.setRenderHint(QPainter::Antialiasing);
            if (measure && measure->strokes > 0 && right - left > 12) {
                const double length = std::min(1.0, measure->cost() / dearest) * (right - left - 6);
                painter_.setPen(QPen(measure->spoiled() ? ink_.alarm : ink_.faint, 2));
                painter_.drawLine(QPointF(left + 3, row.bottom() - 2),
                                  QPointF(left + 3 + length, row.bottom() - 2));
            }
            if (measure && measure->spoiled()) {
                painter_.setPen(QPen(ink_.alarm, 1.6));
                const QPointF at(left + 8, row.top() + 8);
                painter_.drawLine(at + QPointF(-3, -3), at + QPointF(3, 3));
                painter_.drawLine(at + QPointF(-3, 3), at + QPointF(3, -3));
            }
            painter_.setPen(Qt::NoPen);
            painter_.setBrush(ink_.accent);
            for (int mark = 0; mark < session_.marksOf(session_.takes[take].letter, bar); ++mark)
                painter_.drawEllipse(QPointF(right - 6 - 6 * mark, row.top() + 6), 2.2, 2.2);
            painter_.setBrush(Qt::NoBrush);
        }
    }

    void paintComp() {
        const QRect row = state_.layout.comp;
        painter_.fillRect(row, ink_.paper);
        painter_.setFont(textFont(0.85, true));
        for (const Piece& piece : pieces_) {
            if (!visible(piece.range))
                continue;
            const QRectF box = between(piece.range, row).adjusted(0, 2, 0, -2);
            if (!piece.take) {
                painter_.setPen(ink_.faint);
                painter_.drawText(box, Qt::AlignCenter, tr("silence"));
                continue;
            }
            painter_.fillRect(box, ink_.ofTake(session_, *piece.take));
            if (!isOwn(piece))
                painter_.fillRect(box, QBrush(ink_.barLine, Qt::BDiagPattern));
            painter_.setPen(ink_.text);
            const QString letter(QLatin1Char(session_.takes[*piece.take].letter.value));
            const QString words = isOwn(piece) ? letter : graftWords(session_, piece);
            const bool fits = painter_.fontMetrics().horizontalAdvance(words) < box.width() - 8;
            painter_.drawText(box.adjusted(6, 0, -2, 0), Qt::AlignLeft | Qt::AlignVCenter, fits ? words : letter);
        }
        painter_.setPen(QPen(ink_.faint, 1));
        for (const Try& kept : session_.tries) {
            const QRectF box = between(kept.range, row);
            painter_.drawLine(box.bottomLeft() + QPointF(1, -1), box.bottomRight() + QPointF(-1, -1));
        }
    }

    void paintBars() {
        painter_.setRenderHint(QPainter::Antialiasing, false);
        const QRect all = state_.layout.all();
        for (int bar = map_.barAt(state_.toFrame(state_.layout.left));; ++bar) {
            const double x = state_.toX(map_.barStart(bar));
            if (x > width())
                break;
            painter_.setPen(ink_.rule);
            if (x >= state_.layout.left)
                painter_.drawLine(QPointF(x, all.top()), QPointF(x, state_.layout.comp.top()));
        }
        painter_.setPen(ink_.rule);
        for (const QRect& row : state_.layout.rows)
            painter_.drawLine(0, row.bottom(), row.right(), row.bottom());
        painter_.drawLine(0, state_.layout.comp.bottom(), state_.layout.comp.right(), state_.layout.comp.bottom());
    }

    void paintBorders() {
        const auto& passages = session_.comp.passages;
        const QRect all = state_.layout.all();
        for (std::size_t passage = 1; passage < passages.size(); ++passage) {
            const bool dragged = state_.borderDrag && state_.borderDrag->passage == passage;
            const double x = state_.toX(dragged ? state_.borderDrag->at : passages[passage].begin);
            if (x < state_.layout.left || x > width())
                continue;
            const bool chosen = dragged || state_.border == passage;
            painter_.setPen(QPen(chosen ? ink_.accent : ink_.text, chosen ? 2 : 1));
            painter_.drawLine(QPointF(x, all.top()), QPointF(x, all.bottom()));
        }
    }

    void paintChosen() {
        painter_.setRenderHint(QPainter::Antialiasing, false);
        painter_.setBrush(Qt::NoBrush);
        const auto frame = [&](Range<SongFrame> range, const QRect& row, Qt::PenStyle style) {
            painter_.setPen(QPen(ink_.accent, 1.5, style));
            painter_.drawRect(between(range, row).adjusted(0.5, 0.5, -1, -1.5));
        };
        const Range<SongFrame> range = state_.sweep ? state_.sweep->range : state_.range;
        const auto row = state_.sweep ? state_.sweep->take : state_.row;
        if (!range.empty() && visible(range)) {
            frame(range, state_.layout.all(), Qt::DotLine);
            if (row && *row < state_.layout.rows.size())
                frame(range, state_.layout.rows[*row], Qt::SolidLine);
        }
        if (const auto& carried = state_.carried) {
            frame(carried->from, state_.layout.rows[carried->take], Qt::SolidLine);
            const Range<SongFrame> target{carried->to, carried->to + carried->from.length()};
            painter_.fillRect(between(target, state_.layout.comp), ink_.ofTake(session_, carried->take));
            frame(target, state_.layout.comp, Qt::DashLine);
        }
    }

    /// Letters and notes, in the column of the mics.
    void paintHeads() {
        painter_.fillRect(QRect(0, 0, state_.layout.left, state_.layout.comp.bottom() + 1), ink_.margin);
        for (TakeIndex take; take < state_.layout.rows.size(); ++take) {
            const QRect row = state_.layout.rows[take];
            const Take& one = session_.takes[take];
            const QRect swatch(8, row.center().y() - 8, 16, 16);
            painter_.setPen(state_.row == take ? QPen(ink_.accent, 2) : QPen(ink_.barLine, 1));
            painter_.setBrush(ink_.ofTake(session_, take));
            painter_.drawRect(swatch);
            painter_.setPen(ink_.text);
            painter_.setFont(textFont(0.95, true));
            painter_.drawText(swatch, Qt::AlignCenter, QString(QLatin1Char(one.letter.value)));
            painter_.setFont(textFont(0.85));
            painter_.setPen(ink_.faint);
            const QRect text(32, row.top(), state_.layout.left - 36, row.height());
            painter_.drawText(
                text, Qt::AlignLeft | Qt::AlignVCenter,
                painter_.fontMetrics().elidedText(QString::fromStdString(one.note), Qt::ElideRight, text.width()));
            painter_.setPen(ink_.rule);
            painter_.drawLine(0, row.bottom(), state_.layout.left, row.bottom());
        }
        painter_.setPen(ink_.faint);
        painter_.setFont(textFont(0.85));
        painter_.drawText(QRect(8, state_.layout.comp.top(), state_.layout.left - 12, state_.layout.comp.height()),
                          Qt::AlignLeft | Qt::AlignVCenter, tr("comp"));
    }

    static QString tr(const char* text) { return QObject::tr(text); }

    QPainter& painter_;
    const TakesState& state_;
    Document& document_;
    const Ink& ink_;
    const Session& session_;
    MusicalMap map_;
    std::vector<Piece> pieces_;
};

} // namespace

void paintTakes(QPainter& painter, const TakesState& state, Document& document) {
    painter.save();
    TakesPainter(painter, state, document).paint();
    painter.restore();
}

} // namespace lampo
