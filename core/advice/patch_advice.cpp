#include "advice/patch_advice.h"

#include "session/refusals.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double leastGain = 0.05; ///< dB: less changes nothing that anybody hears
constexpr double sortGap = 6;      ///< dB between two sorts of strokes; common practice, no source

Decibels withinRange(double gain) {
    return {std::clamp(gain, limits::patchGain.low, limits::patchGain.high)};
}

} // namespace

std::map<HitIndex, double> levelTargets(const Session& session, const Outcome& outcome,
                                        std::span<const HitIndex> chosen) {
    std::map<std::string, std::vector<std::pair<double, HitIndex>>> drums; // by the first of their mics
    for (const HitIndex hit : chosen)
        if (const auto stroke = chosenStroke(outcome, hit))
            drums[micsOfDrum(session, (*stroke)->mic).front()].emplace_back((*stroke)->level.value, hit);
    std::map<HitIndex, double> targets;
    for (auto& [drum, levels] : drums) {
        std::sort(levels.begin(), levels.end());
        for (auto begin = levels.begin(); begin != levels.end();) {
            const auto gap = std::adjacent_find(
                begin, levels.end(), [](const auto& a, const auto& b) { return b.first - a.first > sortGap; });
            const auto end = gap == levels.end() ? gap : std::next(gap);
            const double median = (begin + (end - begin) / 2)->first;
            for (; begin != end; ++begin)
                targets[begin->second] = median;
        }
    }
    return targets;
}

double patchedGain(const Session& session, const SongHit& hit) {
    if (!hit.mic || session.patches.empty())
        return 0;
    const auto own = micsOfDrum(session, *hit.mic);
    double gain = 0;
    for (const Patch& patch : session.patches)
        if (patch.on && patch.kind == PatchKind::gain && liesOn(session, patch, hit) &&
            std::all_of(own.begin(), own.end(), [&](const std::string& stem) {
                return std::find(patch.mics.begin(), patch.mics.end(), stem) != patch.mics.end();
            }))
            gain += patch.gain.value;
    return gain;
}

Expected<AddPatches> levelled(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                              double percent, std::optional<Decibels> target, const PatchMics& mics) {
    const auto targets = levelTargets(session, outcome, chosen);
    if (targets.empty())
        return refuse("Choose strokes of a drum that has a mic");
    AddPatches edit;
    for (const auto& [hit, median] : targets) {
        const double level = strokeOf(outcome, outcome.hits[hit])->level.value;
        const double gain = (target ? target->value - level : median - level) * percent / 100;
        const auto on = mics.of(session, outcome.hits[hit]);
        const bool changes =
            std::abs(gain) >= leastGain || patchOn(session, outcome.hits[hit], PatchKind::gain, on);
        if (on.empty() || !changes)
            continue;
        edit.patches.push_back(overSlice(session, outcome, hit, PatchKind::gain, on));
        edit.patches.back().gain = withinRange(gain);
    }
    if (edit.patches.empty())
        return refuse("These strokes are level already");
    return edit;
}

Expected<AddPatches> louder(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                            Decibels by, const PatchMics& mics) {
    AddPatches edit;
    for (const HitIndex hit : chosen) {
        const SongHit& one = outcome.hits[hit];
        const auto on = mics.of(session, one);
        if (on.empty())
            continue;
        const auto there = patchOn(session, one, PatchKind::gain, on);
        edit.patches.push_back(there ? session.patches[*there]
                                     : overSlice(session, outcome, hit, PatchKind::gain, on));
        edit.patches.back().gain = withinRange(edit.patches.back().gain.value + by.value);
    }
    if (edit.patches.empty())
        return refuse("Choose strokes of a drum that has a mic");
    return edit;
}

Expected<AddPatches> broughtTogether(const Session& session, const Outcome& outcome, HitIndex index) {
    AddPatches edit;
    if (index < outcome.hits.size() && outcome.hits[index].mic) {
        const SongHit& hit = outcome.hits[index];
        for (const Stroke& stroke : strokesOf(outcome, hit.take)) {
            if (stroke.at < hit.first || stroke.at > hit.last || stroke.mic == *hit.mic || stroke.at == hit.anchor)
                continue;
            Patch patch = overSlice(session, outcome, index, PatchKind::shift, micsOfDrum(session, stroke.mic));
            patch.shift = hit.anchor - stroke.at;
            // Both the stroke as it was and as it comes lie inside.
            patch.before = patch.before + std::max(FrameCount{0}, hit.anchor - std::min(stroke.at, hit.anchor));
            edit.patches.push_back(patch);
        }
    }
    if (edit.patches.empty())
        return refuse("Choose a hit in which another drum was struck a little before or behind");
    return edit;
}

} // namespace lampo
