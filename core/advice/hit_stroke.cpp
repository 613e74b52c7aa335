#include "advice/hit_stroke.h"

#include "session/refusals.h"
#include "session/seams_by_place.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr Milliseconds longestStroke{1000};

} // namespace

Expected<const Stroke*> chosenStroke(const Outcome& outcome, HitIndex hit) {
    const Stroke* stroke = hit < outcome.hits.size() ? strokeOf(outcome, outcome.hits[hit]) : nullptr;
    if (!stroke)
        return refuse("Choose a stroke of a drum that has a mic");
    return stroke;
}

Patch overSlice(const Session& session, const Outcome& outcome, HitIndex index, PatchKind kind,
                std::vector<std::string> mics) {
    const SongHit& hit = outcome.hits[index];
    const FrameCount leadIn =
        std::max(toFrames(SeamsByPlace(session).at(asSong(outcome.landings[index].at)).leadIn, session.rate),
                 toFrames(keptBefore, session.rate));
    Patch patch;
    patch.kind = kind;
    patch.mics = std::move(mics);
    patch.at = placeOf(session, hit);
    patch.before = leadIn;
    patch.length = toFrames(longestStroke, session.rate);
    if (index + 1 < outcome.hits.size())
        patch.length = std::min(patch.length, outcome.landings[index + 1].at - outcome.landings[index].at);
    const Milliseconds room{toMilliseconds(patch.length, session.rate).value / 3};
    patch.fadeIn = {std::clamp(std::min(toMilliseconds(leadIn, session.rate).value - 1, patch.fadeIn.value),
                               limits::patchFade.low, limits::patchFade.high)};
    patch.fadeOut = {
        std::clamp(std::min(room.value, 4 * patch.fadeOut.value), limits::patchFade.low, limits::patchFade.high)};
    return patch;
}

std::optional<std::size_t> patchOn(const Session& session, const SongHit& hit, PatchKind kind,
                                   const std::vector<std::string>& mics) {
    for (std::size_t index = 0; index < session.patches.size(); ++index)
        if (const Patch& patch = session.patches[index];
            patch.kind == kind && patch.mics == mics && liesOn(session, patch, hit))
            return index;
    return std::nullopt;
}

bool liesOn(const Session& session, const Patch& patch, const SongHit& hit) {
    return patch.ofHit && patch.at.take == session.takes[hit.take].letter &&
           abs(patch.at.at - hit.found()) <= correctionTolerance(session.rate);
}

} // namespace lampo
