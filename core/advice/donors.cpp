#include "advice/donors.h"

#include "advice/hit_stroke.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds apart{60};     ///< nearer than this another drum sounds in a donor
constexpr std::size_t neighbours = 4; ///< on each side, of which the median says how loud a stroke should be
constexpr double ownDateCost = 6;     ///< dB: what is unlike all others is a poor donor
constexpr double bleedVaries = 3;     ///< dB: no more does one drum's bleed differ from stroke to stroke
constexpr double sameSort = 9;        ///< dB that a spoiled stroke may lie off those of its sort
constexpr double likelyLevel = 6;     ///< dB off what is wanted: farther off nobody would choose one
constexpr double foreignCost = 30;    ///< dB, where another drum falls on it that is not there as well
constexpr double sharedCost = 6;      ///< dB, where one does that is: its bleed comes once more, a little beside
constexpr double ringCost = 2;        ///< dB, where its own drum rings into it or ends it at once

double median(std::vector<double> values) {
    const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
    std::nth_element(values.begin(), middle, values.end());
    return *middle;
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

/// How far the next stroke in one direction lies of which `sought` is true; the strokes are in order of time.
template <class Sought>
FrameCount toNext(const std::vector<Stroke>& strokes, const Stroke& stroke, int direction, Sought&& sought) {
    for (auto i = &stroke - strokes.data() + direction; i >= 0 && i < std::ssize(strokes); i += direction)
        if (const Stroke& other = strokes[static_cast<std::size_t>(i)]; sought(other))
            return abs(other.at - stroke.at);
    return FrameCount{limits::frames};
}

Donor donorOf(const std::vector<Stroke>& strokes, const Stroke& stroke, TakeLetter take, double wanted) {
    const auto own = [&](const Stroke& other) { return other.mic == stroke.mic; };
    const auto others = [&](const Stroke& other) { return other.mic != stroke.mic; };
    return {{take, stroke.at},
            stroke.level,
            std::abs(stroke.level.value - wanted),
            std::min(toNext(strokes, stroke, -1, others), toNext(strokes, stroke, 1, others)),
            toNext(strokes, stroke, -1, own),
            toNext(strokes, stroke, 1, own)};
}

/// The other drums that were struck around a stroke, by their mics.
MicSet struckNear(const std::vector<Stroke>& strokes, const Stroke& stroke, FrameCount near) {
    MicSet others = 0;
    for (const int direction : {-1, 1})
        for (auto i = &stroke - strokes.data() + direction; i >= 0 && i < std::ssize(strokes); i += direction) {
            const Stroke& other = strokes[static_cast<std::size_t>(i)];
            if (abs(other.at - stroke.at) >= near)
                break;
            if (other.mic != stroke.mic)
                others |= onlyMic(other.mic);
        }
    return others;
}

/// What is sought.
struct Wanted {
    double level;      ///< dB
    FrameCount length; ///< that is to sound
    MicSet with;       ///< see struckNear()
    SampleRate rate;

    /// dB, without what the other mics say.
    double unlike(const Donor& donor, const std::vector<Stroke>& strokes, const Stroke& stroke) const {
        const FrameCount quiet = toFrames(apart, rate);
        const auto missing = [](FrameCount is, FrameCount wanted) {
            return std::max(0.0, 1 - static_cast<double>(is.frames) / static_cast<double>(wanted.frames));
        };
        const MicSet others = struckNear(strokes, stroke, quiet);
        const double company = (others & ~with) != 0 ? foreignCost : others != 0 ? sharedCost : 0;
        return donor.offLevel + (stroke.ownDate ? ownDateCost : 0) + company +
               ringCost * (missing(donor.before, quiet) + missing(donor.behind, length));
    }
};

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

} // namespace

Expected<std::vector<Donor>> donorsFor(const Session& session, const Outcome& outcome, HitIndex hit) {
    const auto chosen = chosenStroke(outcome, hit);
    if (!chosen)
        return tl::unexpected(chosen.error());
    const Stroke& spoiled = **chosen;
    const auto& around = strokesOf(outcome, outcome.hits[hit].take);
    const FrameCount length = overSlice(session, outcome, hit, PatchKind::replace, {}).length;
    const Wanted wanted{levelAround(around, spoiled), length,
                        struckNear(around, spoiled, toFrames(apart, session.rate)), session.rate};
    std::vector<Donor> donors;
    std::vector<std::vector<double>> beside;
    std::vector<std::size_t> likely; // donors of `beside`
    for (TakeIndex take; take < session.takes.size(); ++take) {
        const auto& strokes = strokesOf(outcome, take);
        for (const Stroke& stroke : strokes) {
            if (stroke.mic != spoiled.mic || (take == outcome.hits[hit].take && stroke.at == spoiled.at))
                continue;
            Donor donor = donorOf(strokes, stroke, session.takes[take].letter, wanted.level);
            donor.unlike = wanted.unlike(donor, strokes, stroke);
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

Expected<Patch> replacement(const Session& session, const Outcome& outcome, HitIndex index, const Donor& donor,
                            DonorLevel level) {
    return chosenStroke(outcome, index).map([&](const Stroke* stroke) {
        const SongHit& hit = outcome.hits[index];
        Patch patch = overSlice(session, outcome, index, PatchKind::replace, micsOfDrum(session, stroke->mic));
        patch.from = donor.at;
        const double wanted = level == DonorLevel::neighbours ? levelAround(strokesOf(outcome, hit.take), *stroke)
                              : level == DonorLevel::replaced ? stroke->level.value
                                                              : donor.level.value;
        patch.gain = {std::clamp(wanted - donor.level.value, limits::patchGain.low, limits::patchGain.high)};
        // What the donor's drum struck next is not brought along.
        const FrameCount own = donor.behind + FrameCount{patch.before.frames / 2};
        if (own < patch.length) {
            patch.length = std::max(own, FrameCount{2 * patch.before.frames});
            patch.fadeOut =
                std::min(patch.fadeOut, Milliseconds{toMilliseconds(patch.length, session.rate).value / 3});
            patch.fadeOut = std::max(patch.fadeOut, Milliseconds{limits::patchFade.low});
        }
        return patch;
    });
}

} // namespace lampo
