#include "sheet/sheet_words.h"

#include "advice/hit_edits.h"
#include "look/number.h"

#include <QObject>

#include <cmath>

namespace lampo {

namespace {

QString wordsFor(SheetState::Limit limit) {
    switch (limit) {
    case SheetState::Limit::none:
        return {};
    case SheetState::Limit::neighbour:
        return QObject::tr(", held back by its neighbour");
    case SheetState::Limit::joined:
        return QObject::tr(", too near to be cut from its neighbour: both move");
    case SheetState::Limit::hole:
        return QObject::tr(", opens a hole of more than %1 ms").arg(longestHole.value);
    }
    return {};
}

} // namespace

QString wordsFor(const SheetState& state, HitIndex hit) {
    const SongHit& found = state.outcome->hits[hit];
    if (found.bare)
        return QObject::tr("A cut without an attack: it moves with its neighbours");
    const QLatin1String voice(name(found.voice).data());
    QString text = QString(voice).replace(0, 1, QChar(voice[0]).toUpper());
    if (const auto late = state.latenessOf(hit, state.drag.has_value()))
        text += QObject::tr(", %1 ms %2")
                    .arg(std::abs(*late), 0, 'f', 1)
                    .arg(*late < 0 ? QObject::tr("early") : QObject::tr("late"));
    text += QObject::tr(", %1 dB, %2")
                .arg(number(found.level.value, 1))
                .arg(QLatin1String(name(state.outcome->landings[hit].state).data()));
    if (state.drag)
        text += wordsFor(state.drag->limit);
    if (found.wantsLook())
        text += QObject::tr(", unlike its drum's other strokes: its mark is not by theirs");
    if (const Landing& landing = state.outcome->landings[hit]; landing.shoved != FrameCount{})
        text += QObject::tr(", shoved by %1 ms")
                    .arg(number(toMilliseconds(landing.shoved, state.session->rate).value, 1));
    if (const Landing& landing = state.outcome->landings[hit]; landing.slipped != FrameCount{})
        text += QObject::tr(", slipped by %1 ms")
                    .arg(number(toMilliseconds(landing.slipped, state.session->rate).value, 1));
    if (phraseAt(*state.session, *state.outcome, hit))
        text += QObject::tr(", in a phrase");
    if (state.session->takes.size() > 1)
        text += QObject::tr(", take %1").arg(QLatin1Char(state.session->takes[found.take].letter.value));
    return text;
}

QString wordsFor(const SheetState& state, SheetState::CandidateRef ref) {
    const Candidate& candidate = state.candidateOf(ref);
    const JudgedCandidate& judged = state.judgedOf(ref);
    const auto nameOf = [&](MicIndex mic) { return QString::fromStdString(state.session->mics[mic].shownName()); };
    const QString level = QObject::tr("%1 dB in %2").arg(number(candidate.level.value, 1), nameOf(ref.mic));
    switch (judged.verdict) {
    case Verdict::hit:
        return QObject::tr("A hit, %1, %2 dB above the threshold%3")
            .arg(level)
            .arg(judged.above.value, 0, 'f', 1)
            .arg(judged.aboveBleed.value < SheetState::explainsNothing
                     ? QObject::tr(", %1 dB above what other drums explain").arg(judged.aboveBleed.value, 0, 'f', 1)
                     : QString());
    case Verdict::below:
        return QObject::tr("Below the threshold by %1 dB, %2: a click or A takes it in")
            .arg(-judged.above.value, 0, 'f', 1)
            .arg(level);
    case Verdict::bleed:
        return QObject::tr("Bleed from %1, which explains it to %2 dB, %3: a click or A takes it in")
            .arg(nameOf(judged.bleedFrom))
            .arg(std::abs(judged.aboveBleed.value), 0, 'f', 1)
            .arg(level);
    case Verdict::unlike:
        return QObject::tr("Unlike a stroke of its drum, as a ring that swells, %1: a click or A takes it in")
            .arg(level);
    case Verdict::tooNear:
        return QObject::tr("Too near another hit, %1: a click or A takes it in").arg(level);
    case Verdict::tooFine:
        return QObject::tr("Away from every line of the finest note, %1: a click or A takes it in").arg(level);
    }
    return {};
}

QString wordsFor(const Seam& seam, SampleRate rate) {
    const QString kind = QString::fromLatin1(name(seam.kind).data());
    if (seam.kind == SeamKind::stretched)
        return QObject::tr("%1 × %2").arg(kind, number(seam.stretch, 2));
    if (seam.kind == SeamKind::repeated)
        return QObject::tr("%1 %2 ms").arg(kind, number(toMilliseconds(seam.again, rate).value, 0));
    return kind;
}

QString wordsFor(PlacedBy by) {
    return by == PlacedBy::rule     ? QObject::tr("rule")
           : by == PlacedBy::search ? QObject::tr("sound")
                                    : QObject::tr("hand");
}

QString wordsFor(const SheetState& state, SeamIndex index) {
    const Seam& seam = state.outcome->plan->seams[index];
    QString text = QObject::tr("A seam of %1 ms, %2")
                       .arg(number(toMilliseconds(seam.range.length(), state.session->rate).value, 1))
                       .arg(wordsFor(seam, state.session->rate));
    if (seam.between)
        text += QObject::tr(", ends %1 ms before the attack")
                    .arg(number(toMilliseconds(seam.ahead, state.session->rate).value, 1));
    text += QObject::tr(", placed by %1").arg(wordsFor(seam.by));
    if (seam.by == PlacedBy::search)
        text += QObject::tr(": dips by %1 dB, by rule %2 dB").arg(number(seam.dip, 1), number(seam.ruledDip, 1));
    if (seam.kind == SeamKind::stretched && seam.stretch > state.session->seams.mostStretch)
        text += QObject::tr(", stretched more than %1 times").arg(number(state.session->seams.mostStretch, 2));
    return text;
}

QString wordsFor(const SheetState& state, QPoint point) {
    if (const auto grip = state.seamUnder(point))
        return wordsFor(state, grip->seam);
    const auto candidate = state.candidateUnder(point);
    if (candidate && state.judgedOf(*candidate).verdict != Verdict::hit)
        return wordsFor(state, *candidate);
    if (const auto hit = state.drag ? std::optional(state.drag->hit) : state.hitAt(point))
        return wordsFor(state, *hit);
    const auto lane = state.layout.laneAt(point);
    return lane && *lane < state.session->mics.size()
               ? QString::fromStdString(state.session->mics[*lane].shownName())
               : QString();
}

} // namespace lampo
