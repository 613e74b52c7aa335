#include "advice/silences.h"

#include "advice/hit_stroke.h"
#include "session/refusals.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds opening{20};   ///< before a tom's stroke its mic opens
constexpr Milliseconds ringing{1000}; ///< and stays open so long behind it
constexpr double loud = -24;          ///< dB against strong strokes: what stays open though it was taken for none
constexpr double unexplained = 6;     ///< dB above what other drums explain
constexpr Milliseconds moment{50};    ///< over which the loudest is measured

bool isOnToms(const Session& session, const Patch& patch) {
    return std::all_of(patch.mics.begin(), patch.mics.end(), [&](const std::string& stem) {
        const auto mic = session.micNamed(stem);
        return mic && session.mics[*mic].role == Role::tom;
    });
}

/// Energy of a mic in a stretch of a take, moment by moment.
struct Energy {
    double all = 0;
    double loudest = 0; ///< of a moment, per frame

    Expected<void> add(KitReader& kit, TakeIndex take, MicIndex mic, Range<SourceFrame> stretch) {
        const FrameCount step = toFrames(moment, kit.rate());
        for (SourceFrame at = stretch.begin; at < stretch.end; at = at + step) {
            const auto count = static_cast<std::size_t>(std::min(step, stretch.end - at).frames);
            const auto sound = kit.frames(take, mic, at, count);
            if (!sound)
                return tl::unexpected(sound.error());
            double energy = 0;
            for (const float frame : *sound)
                energy += double{frame} * frame;
            all += energy;
            loudest = std::max(loudest, energy / static_cast<double>(count));
        }
        return {};
    }
};

/// Where a mic stays open: its drum's strokes, and whatever else is loud in it that no other drum explains, whether
/// it was taken for a stroke or not. In order of time.
std::vector<SourceFrame> ownSounds(const Outcome& outcome, TakeIndex take, MicIndex mic) {
    std::vector<SourceFrame> sounds;
    for (const Stroke& stroke : strokesOf(outcome, take))
        if (stroke.mic == mic)
            sounds.push_back(stroke.at);
    const auto& heard = outcome.takes[take]->mics[mic];
    const auto& strokes = outcome.takes[take]->strokes;
    if (heard && strokes && strokes->verdicts[mic].size() == heard->candidates.size())
        for (std::size_t i = 0; i < heard->candidates.size(); ++i)
            if (heard->candidates[i].level.value > loud && strokes->verdicts[mic][i].aboveBleed.value > unexplained)
                sounds.push_back(heard->candidates[i].at);
    std::sort(sounds.begin(), sounds.end());
    return sounds;
}

void silenceBesideStrokes(const Session& session, const Outcome& outcome, TakeIndex take, MicIndex mic,
                          AddPatches& edit) {
    const FrameCount rings = toFrames(ringing, session.rate), opens = toFrames(opening, session.rate);
    SourceFrame open{0};
    const auto silence = [&](SourceFrame until) {
        if (until - open <= rings)
            return;
        Patch patch;
        patch.kind = PatchKind::silence;
        patch.mics = {session.mics[mic].stem};
        patch.at = {session.takes[take].letter, open};
        patch.ofHit = false;
        patch.length = until - open;
        patch.fadeIn = {limits::patchFade.high / 2};
        edit.patches.push_back(patch);
    };
    for (const SourceFrame sound : ownSounds(outcome, take, mic)) {
        silence(sound - opens);
        open = std::max(open, sound + rings);
    }
    silence(SourceFrame{session.takes[take].length.frames});
}

} // namespace

Expected<AddPatches> silenced(const Session& session, const Outcome& outcome, Range<ResultFrame> stretch,
                              const std::vector<std::string>& mics) {
    if (mics.empty())
        return refuse("Choose the mics that shall be silent there");
    AddPatches edit;
    for (const Segment& segment : outcome.plan->segments) {
        const auto part = segment.sounds.intersected(stretch);
        if (part.empty())
            continue;
        const SourceFrame begin = segment.sourceAt(part.begin), end = segment.sourceAt(part.end);
        const TakeLetter letter = session.takes[segment.take].letter;
        // What goes on in the same take is one stretch.
        if (!edit.patches.empty() && edit.patches.back().at.take == letter && begin >= edit.patches.back().at.at) {
            Patch& patch = edit.patches.back();
            patch.length = std::max(patch.length, end - patch.at.at);
            continue;
        }
        Patch patch;
        patch.kind = PatchKind::silence;
        patch.mics = mics;
        patch.at = {letter, begin};
        patch.ofHit = false;
        patch.length = end - begin;
        if (patch.length > FrameCount{})
            edit.patches.push_back(patch);
    }
    if (edit.patches.empty())
        return refuse("Draw a stretch in the ruler first: there it is to be silent");
    return edit;
}

Expected<AddPatches> tomsSilenced(const Session& session, const Outcome& outcome) {
    AddPatches edit;
    for (TakeIndex take; take < session.takes.size(); ++take)
        for (MicIndex mic; session.sounds(take) && mic < session.mics.size(); ++mic)
            if (session.mics[mic].role == Role::tom)
                silenceBesideStrokes(session, outcome, take, mic, edit);
    if (edit.patches.empty())
        return refuse("There is no tom mic, or every tom rings all the time");
    return edit;
}

std::vector<std::size_t> tomSilences(const Session& session) {
    std::vector<std::size_t> indices;
    for (std::size_t index = 0; index < session.patches.size(); ++index)
        if (const Patch& patch = session.patches[index];
            patch.kind == PatchKind::silence && !patch.ofHit && isOnToms(session, patch))
            indices.push_back(index);
    return indices;
}

Expected<std::vector<TakenAway>> takenAway(const Session& session, KitReader& kit,
                                           const std::vector<Patch>& patches) {
    std::vector<TakenAway> away;
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        TakenAway one{session.mics[mic].stem};
        Energy energy;
        for (const Patch& patch : patches) {
            const auto take = session.takeLettered(patch.at.take);
            if (!take || patch.kind != PatchKind::silence ||
                std::find(patch.mics.begin(), patch.mics.end(), one.mic) == patch.mics.end())
                continue;
            const SourceFrame begin = patch.at.at - patch.before;
            if (const auto added = energy.add(kit, *take, mic, {begin, begin + patch.length}); !added)
                return tl::unexpected(added.error());
            one.length = one.length + patch.length;
        }
        if (one.length == FrameCount{})
            continue;
        if (energy.all > 0) {
            one.mean = toDecibels(std::sqrt(energy.all / static_cast<double>(one.length.frames)));
            one.loudest = toDecibels(std::sqrt(energy.loudest));
        }
        away.push_back(one);
    }
    return away;
}

} // namespace lampo
