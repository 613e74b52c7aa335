#include "takes/takes_words.h"

#include "base/text.h"

#include <QObject>

#include <cmath>

namespace lampo {
namespace {

bool onBar(const BarBeat& place) {
    return place.beat < 1.005;
}

QString shortPlace(const BarBeat& place) {
    return onBar(place)
               ? QString::number(place.bar)
               : QStringLiteral("%1.%2").arg(place.bar).arg(QString::fromStdString(trimmedNumber(place.beat, 2)));
}

QString signedMs(double value) {
    return QObject::tr("%1 ms %2")
        .arg(std::abs(value), 0, 'f', 1)
        .arg(value < 0 ? QObject::tr("early") : QObject::tr("late"));
}

} // namespace

QString placeWords(const Session& session, SongFrame at) {
    const BarBeat place = MusicalMap(session.map, session.rate).barBeat(at);
    return onBar(place) ? QObject::tr("bar %1").arg(place.bar)
                        : QObject::tr("bar %1 beat %2")
                              .arg(place.bar)
                              .arg(QString::fromStdString(trimmedNumber(place.beat, 2)));
}

QString rangeWords(const Session& session, Range<SongFrame> range) {
    const MusicalMap map(session.map, session.rate);
    const BarBeat begin = map.barBeat(range.begin), end = map.barBeat(range.end);
    if (!onBar(begin) || !onBar(end))
        return QObject::tr("bar %1 to %2").arg(shortPlace(begin), shortPlace(end));
    return end.bar - begin.bar == 1 ? QObject::tr("bar %1").arg(begin.bar)
                                    : QObject::tr("bars %1 to %2").arg(begin.bar).arg(end.bar - 1);
}

/// The bar in which a piece's material was played.
QString graftWords(const Session& session, const Piece& piece) {
    const SongFrame recorded = piece.sourceAt(piece.range.begin) + session.takes[*piece.take].shift();
    const auto place = songPlace(session.form, recorded);
    // It was lined up by its hits, so it begins a few milliseconds beside the bar it is from.
    const MusicalMap map(session.map, session.rate);
    const SongFrame at = place.value_or(recorded);
    BarBeat from = map.barBeat(at);
    const SongFrame next = map.barStart(from.bar + 1);
    if (next - at < toFrames(Milliseconds{100}, session.rate))
        from = {from.bar + 1, 1};
    return QObject::tr("%1 from bar %2")
        .arg(QLatin1Char(session.takes[*piece.take].letter.value))
        .arg(from.beat < 1.25 ? QString::number(from.bar) : shortPlace(from));
}

QString sourceWords(const Session& session, SongFrame at) {
    const auto piece = pieceAt(session, at);
    if (!piece)
        return {};
    if (!piece->take)
        return QObject::tr("%1: silence").arg(placeWords(session, at));
    const Take& take = session.takes[*piece->take];
    const SourceFrame source = piece->sourceAt(at);
    const SongFrame recorded = source + take.shift();
    const auto own = songPlace(session.form, recorded);
    const double seconds = toSeconds(source - SourceFrame{0}, session.rate).value;
    const QString time = QStringLiteral("%1:%2")
                             .arg(static_cast<int>(std::max(0.0, seconds)) / 60)
                             .arg(std::fmod(std::max(0.0, seconds), 60.0), 6, 'f', 3, QLatin1Char('0'));
    if (own == at)
        return QObject::tr("%1: take %2, %3 in its files")
            .arg(placeWords(session, at))
            .arg(QLatin1Char(take.letter.value))
            .arg(time);
    return QObject::tr("%1: take %2, played in %3, %4 in its files")
        .arg(placeWords(session, at))
        .arg(QLatin1Char(take.letter.value))
        .arg(own ? placeWords(session, *own) : QObject::tr("a deleted bar"))
        .arg(time);
}

QString measureWords(const BarMeasure& measure) {
    if (measure.strokes == 0)
        return QObject::tr("no strokes");
    QString text = QObject::tr("%1, unsteady by %2 ms, uneven by %3 dB")
                       .arg(signedMs(measure.mean.value))
                       .arg(measure.unsteady.value, 0, 'f', 1)
                       .arg(measure.uneven.value, 0, 'f', 1);
    if (measure.missing > 0)
        text += QObject::tr(", %1 missing").arg(measure.missing);
    if (measure.extra > 0)
        text += QObject::tr(", %1 that no other take has").arg(measure.extra);
    if (measure.clashes > 0)
        text += QObject::tr(", %1 between the lines").arg(measure.clashes);
    return measure.spoiled() ? QObject::tr("spoiled: ") + text : text;
}

QString noTakeSounds() {
    return QObject::tr("No take sounds here");
}

} // namespace lampo
