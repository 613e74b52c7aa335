#include "samples/sample_strokes.h"

#include "pipeline/hit_strokes.h"

namespace lampo {
namespace {

bool isOfDrum(const Session& session, MicIndex mic, MicIndex other) {
    const std::string& group = session.mics[mic].group;
    return mic == other || (!group.empty() && session.mics[other].group == group);
}

/// As it was played: the hit itself, or a stroke that fell together with it.
std::optional<SampleStroke> playedStroke(const Session& session, const Outcome& outcome, MicIndex mic,
                                         HitIndex index) {
    const SongHit& hit = outcome.hits[index];
    const ResultFrame lands = outcome.landings[index].at;
    if (hit.bare)
        return std::nullopt;
    if (isOfItsMic(session, hit) && isOfDrum(session, mic, *hit.mic))
        return SampleStroke{hit.take, hit.anchor, lands, hit.level, hit.level};
    for (MicIndex other; other < session.mics.size(); ++other)
        if ((hit.detectedBy & onlyMic(other)) != 0 && isOfDrum(session, mic, other))
            if (const Stroke* stroke = strokeOf(outcome, hit, other))
                return SampleStroke{hit.take, stroke->at, lands + (stroke->at - hit.anchor), stroke->level,
                                    stroke->level};
    return std::nullopt;
}

} // namespace

std::optional<SampleStroke> sampleStroke(const Session& session, const Outcome& outcome, const DrumSample& sample,
                                         HitIndex hit) {
    const auto mic = session.micNamed(sample.mic);
    auto stroke = mic ? playedStroke(session, outcome, *mic, hit) : std::nullopt;
    if (!stroke)
        return std::nullopt;
    if (const SampleHit* said = saidAbout(sample, placeOf(session, outcome.hits[hit]), session.rate)) {
        stroke->level = said->level.value_or(stroke->played);
        stroke->out = said->out;
    }
    return stroke;
}

std::vector<SampleStroke> sampleStrokes(const Session& session, const Outcome& outcome, const DrumSample& sample) {
    std::vector<SampleStroke> strokes;
    for (HitIndex hit; hit < outcome.hits.size(); ++hit)
        if (const auto stroke = sampleStroke(session, outcome, sample, hit))
            strokes.push_back(*stroke);
    return strokes;
}

} // namespace lampo
