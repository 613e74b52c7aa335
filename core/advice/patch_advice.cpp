#include "advice/patch_advice.h"

#include "session/refusals.h"
#include "session/seams_by_place.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds apart{60};     ///< nearer than this another drum sounds in a donor
constexpr std::size_t neighbours = 4; ///< on each side, of which the median says how loud a stroke should be
constexpr Milliseconds longestStroke{1000};
constexpr Milliseconds opening{20};   ///< before a tom's stroke its mic opens
constexpr Milliseconds ringing{1000}; ///< and stays open so long behind it
constexpr double ownDateCost = 6;     ///< dB: what is unlike all others is a poor donor
constexpr double bleedVaries = 3;     ///< dB: no more does one drum's bleed differ from stroke to stroke
constexpr double sameSort = 9;        ///< dB: louder or softer ones are another sort of stroke
constexpr double likelyLevel = 6;     ///< dB off what is wanted: farther off nobody would choose one
constexpr double apartCost = 30;      ///< dB, where another drum falls on it

double median(std::vector<double> values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
}

/// The strokes of one take.
const std::vector<Stroke>& strokesOf(const Outcome& outcome, TakeIndex take) {
    static const std::vector<Stroke> none;
    const auto& strokes = outcome.takes[take]->strokes;
    return strokes ? strokes->strokes : none;
}

/// The stroke of a drum that a hit's anchor is.
const Stroke* strokeOf(const Outcome& outcome, const SongHit& hit) {
    const auto& strokes = strokesOf(outcome, hit.take);
    const auto found = std::find_if(strokes.begin(), strokes.end(), [&](const Stroke& stroke) {
        return hit.mic && stroke.mic == *hit.mic && abs(stroke.at - hit.found()) <= FrameCount{2};
    });
    return found == strokes.end() ? nullptr : &*found;
}

/// How loud a stroke of this drum should be there: the median of those around it that are of its sort, since ghost
/// notes say nothing about backbeats.
double levelAround(const std::vector<Stroke>& strokes, const Stroke& stroke) {
    std::vector<double> levels;
    const auto here = &stroke - strokes.data();
    for (const int direction : {-1, 1}) {
        std::size_t found = 0;
        for (auto i = here + direction; i >= 0 && i < std::ssize(strokes) && found < neighbours; i += direction)
            if (const Stroke& other = strokes[static_cast<std::size_t>(i)];
                other.mic == stroke.mic && std::abs(other.level.value - stroke.level.value) <= sameSort) {
                levels.push_back(other.level.value);
                ++found;
            }
    }
    return levels.empty() ? stroke.level.value : median(levels);
}

/// How far the nearest stroke of another drum lies; the strokes are in order of time.
FrameCount nearestOther(const std::vector<Stroke>& strokes, const Stroke& stroke) {
    FrameCount nearest{limits::frames};
    const auto here = &stroke - strokes.data();
    for (const int direction : {-1, 1}) {
        auto i = here + direction;
        while (i >= 0 && i < std::ssize(strokes) && strokes[static_cast<std::size_t>(i)].mic == stroke.mic)
            i += direction;
        if (i >= 0 && i < std::ssize(strokes))
            nearest = std::min(nearest, abs(strokes[static_cast<std::size_t>(i)].at - stroke.at));
    }
    return nearest;
}

/// What each of the other drums' mics hears around a stroke, dB above it: more than they usually hear of this drum
/// says that something else was struck, also where nobody was taken for having struck it.
std::vector<double> heardBeside(const Session& session, const Outcome& outcome, TakeIndex take,
                                const Stroke& stroke) {
    const auto own = micsOfDrum(session, stroke.mic);
    const FrameCount near = toFrames(apart, session.rate);
    std::vector<double> levels;
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        if (!isCloseMic(session.mics[mic].role) ||
            std::find(own.begin(), own.end(), session.mics[mic].stem) != own.end())
            continue;
        double loudest = -60;
        levels.push_back(loudest - stroke.level.value);
        const auto& heard = outcome.takes[take]->mics[mic];
        if (!heard)
            continue;
        auto candidate = std::partition_point(heard->candidates.begin(), heard->candidates.end(),
                                              [&](const Candidate& one) { return one.at < stroke.at - near; });
        for (; candidate != heard->candidates.end() && candidate->at < stroke.at + near; ++candidate)
            loudest = std::max(loudest, candidate->level.value);
        levels.back() = loudest - stroke.level.value;
    }
    return levels;
}

/// By how much the other mics hear more around each of several strokes than around the quieter half of them, the
/// worst mic's, dB.
std::vector<double> companyOf(const std::vector<std::vector<double>>& beside) {
    std::vector<double> company(beside.size(), 0);
    for (std::size_t mic = 0; !beside.empty() && mic < beside.front().size(); ++mic) {
        std::vector<double> levels;
        for (const auto& levelsThere : beside)
            levels.push_back(levelsThere[mic]);
        std::vector<double> ordered = levels;
        std::sort(ordered.begin(), ordered.end());
        const double usual = ordered[ordered.size() / 4] + bleedVaries;
        for (std::size_t i = 0; i < levels.size(); ++i)
            company[i] = std::max(company[i], levels[i] - usual);
    }
    return company;
}

/// From the lead-in to that of the next hit of the take, on the mics of the hit's drum.
Patch overStroke(const Session& session, const Outcome& outcome, HitIndex index, PatchKind kind) {
    const SongHit& hit = outcome.hits[index];
    const FrameCount leadIn =
        std::max(toFrames(SeamsByPlace(session).at(asSong(outcome.landings[index].at)).leadIn, session.rate),
                 toFrames(keptBefore, session.rate));
    Patch patch;
    patch.kind = kind;
    patch.mics = micsOfDrum(session, *hit.mic);
    patch.at = {session.takes[hit.take].letter, hit.found()};
    patch.before = leadIn;
    patch.length = toFrames(longestStroke, session.rate);
    if (index + 1 < outcome.hits.size() && outcome.hits[index + 1].besideInItsTake(hit))
        patch.length = std::min(patch.length, outcome.landings[index + 1].at - outcome.landings[index].at);
    const Milliseconds room{toMilliseconds(patch.length, session.rate).value / 3};
    patch.fadeIn = {std::clamp(std::min(toMilliseconds(leadIn, session.rate).value - 1, patch.fadeIn.value),
                               limits::patchFade.low, limits::patchFade.high)};
    patch.fadeOut = {
        std::clamp(std::min(room.value, 4 * patch.fadeOut.value), limits::patchFade.low, limits::patchFade.high)};
    return patch;
}

Expected<const Stroke*> chosenStroke(const Outcome& outcome, HitIndex hit) {
    const Stroke* stroke = hit < outcome.hits.size() ? strokeOf(outcome, outcome.hits[hit]) : nullptr;
    if (!stroke)
        return refuse("Choose a stroke of a drum that has a mic");
    return stroke;
}

} // namespace

std::vector<std::string> micsOfDrum(const Session& session, MicIndex mic) {
    const Mic& own = session.mics[mic];
    std::vector<std::string> stems;
    for (const Mic& other : session.mics) {
        const bool grouped = !own.group.empty() && other.group == own.group;
        const bool alike = other.role == own.role && (own.role == Role::kick || own.role == Role::snare);
        if (other.stem == own.stem || grouped || alike)
            stems.push_back(other.stem);
    }
    return stems;
}

Expected<std::vector<Donor>> donorsFor(const Session& session, const Outcome& outcome, HitIndex hit) {
    const auto chosen = chosenStroke(outcome, hit);
    if (!chosen)
        return tl::unexpected(chosen.error());
    const Stroke& spoiled = **chosen;
    const double wanted = levelAround(strokesOf(outcome, outcome.hits[hit].take), spoiled);
    std::vector<Donor> donors;
    std::vector<std::vector<double>> beside;
    std::vector<std::size_t> likely; // donors of `beside`
    for (TakeIndex take; take < session.takes.size(); ++take) {
        const auto& strokes = strokesOf(outcome, take);
        for (const Stroke& stroke : strokes) {
            if (stroke.mic != spoiled.mic || (take == outcome.hits[hit].take && stroke.at == spoiled.at))
                continue;
            Donor donor{{session.takes[take].letter, stroke.at},
                        stroke.level,
                        std::abs(stroke.level.value - wanted),
                        nearestOther(strokes, stroke),
                        0};
            donor.unlike = donor.offLevel + (stroke.ownDate ? ownDateCost : 0) +
                           (donor.alone < toFrames(apart, session.rate) ? apartCost : 0);
            donors.push_back(donor);
            if (donor.offLevel <= likelyLevel) {
                beside.push_back(heardBeside(session, outcome, take, stroke));
                likely.push_back(donors.size() - 1);
            }
        }
    }
    const std::vector<double> company = companyOf(beside);
    for (std::size_t i = 0; i < likely.size(); ++i)
        donors[likely[i]].unlike += company[i];
    std::stable_sort(donors.begin(), donors.end(),
                     [](const Donor& a, const Donor& b) { return a.unlike < b.unlike; });
    return donors;
}

Expected<Patch> replacement(const Session& session, const Outcome& outcome, HitIndex hit, const Donor& donor) {
    return chosenStroke(outcome, hit).map([&](const Stroke* stroke) {
        Patch patch = overStroke(session, outcome, hit, PatchKind::replace);
        patch.from = donor.at;
        patch.gain = {
            std::clamp(levelAround(strokesOf(outcome, outcome.hits[hit].take), *stroke) - donor.level.value,
                       limits::patchGain.low, limits::patchGain.high)};
        return patch;
    });
}

Expected<AddPatches> levelled(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                              double percent, std::optional<Decibels> target) {
    std::vector<double> levels;
    for (const HitIndex hit : chosen)
        if (const auto stroke = chosenStroke(outcome, hit))
            levels.push_back((*stroke)->level.value);
    if (levels.empty())
        return refuse("Choose strokes of a drum that has a mic");
    const double wanted = target ? target->value : median(levels);
    AddPatches edit;
    for (const HitIndex hit : chosen) {
        const auto stroke = chosenStroke(outcome, hit);
        if (!stroke)
            continue;
        const double gain = (wanted - (*stroke)->level.value) * percent / 100;
        if (std::abs(gain) < 0.05)
            continue;
        edit.patches.push_back(overStroke(session, outcome, hit, PatchKind::gain));
        edit.patches.back().gain = {std::clamp(gain, limits::patchGain.low, limits::patchGain.high)};
    }
    if (edit.patches.empty())
        return refuse("These strokes are level already");
    return edit;
}

Expected<AddPatches> louder(const Session& session, const Outcome& outcome, std::span<const HitIndex> chosen,
                            Decibels by) {
    AddPatches edit;
    for (const HitIndex hit : chosen)
        if (chosenStroke(outcome, hit)) {
            edit.patches.push_back(overStroke(session, outcome, hit, PatchKind::gain));
            edit.patches.back().gain = by;
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
            Patch patch = overStroke(session, outcome, index, PatchKind::shift);
            patch.mics = micsOfDrum(session, stroke.mic);
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

Expected<AddPatches> tomsSilenced(const Session& session, const Outcome& outcome, TakeIndex take) {
    AddPatches edit;
    const FrameCount rings = toFrames(ringing, session.rate), opens = toFrames(opening, session.rate);
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        if (session.mics[mic].role != Role::tom)
            continue;
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
        for (const Stroke& stroke : strokesOf(outcome, take))
            if (stroke.mic == mic) {
                silence(stroke.at - opens);
                open = std::max(open, stroke.at + rings);
            }
        silence(SourceFrame{session.takes[take].length.frames});
    }
    if (edit.patches.empty())
        return refuse("There is no tom mic, or every tom rings all the time");
    return edit;
}

} // namespace lampo
