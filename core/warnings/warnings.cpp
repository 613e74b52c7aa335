#include "warnings/warnings.h"

#include "base/enum_names.h"
#include "base/text.h"
#include "map/musical_map.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

/// Beyond it an ear is worth it; common practice, no source.
constexpr Milliseconds farMove{60};

std::string milliseconds(FrameCount count, SampleRate rate) {
    return fmt::format("{} ms", trimmedNumber(std::abs(toMilliseconds(count, rate).value), 0));
}

std::string placeOf(const GridLine& line) {
    return fmt::format("bar {} beat {}", line.place.bar, trimmedNumber(line.place.beat, 2));
}

void aboutLanding(const Session& session, const Hit& hit, const Landing& landing, std::vector<Warning>& warnings) {
    const std::string drum(name(hit.voice));
    const double moved = toMilliseconds(landing.move(), session.rate).value;
    if (landing.state == LandingState::doubtful)
        warnings.push_back({landing.at, WarningKind::doubtfulLine,
                            fmt::format("This {} may mean another line than {}", drum, placeOf(*landing.line)),
                            10 - landing.confidence});
    if (landing.state == LandingState::beyond)
        warnings.push_back({landing.at, WarningKind::beyondReach,
                            fmt::format("This {} means {}, which lies beyond the reach, so it stays as played",
                                        drum, placeOf(*landing.line)),
                            6});
    if (hit.wantsLook())
        warnings.push_back(
            {landing.at, WarningKind::unlikeStroke,
             fmt::format(
                 "This {} is dated by itself, not by the drum's other strokes: see whether its mark lies right",
                 drum),
             3});
    if (landing.heldTogether)
        warnings.push_back(
            {landing.at, WarningKind::heldTogether,
             fmt::format("This {} is too near its neighbour to be cut from it, so both move together", drum), 4});
    if (std::abs(moved) > farMove.value)
        warnings.push_back({landing.at, WarningKind::movedFar,
                            fmt::format("This {} moves by {}", drum, milliseconds(landing.move(), session.rate)),
                            std::abs(moved) / 20});
}

void aboutHoles(const Session& session, const Plan& plan, std::vector<Warning>& warnings) {
    for (std::size_t i = 1; i < plan.segments.size(); ++i) {
        if (plan.segments[i].take != plan.segments[i - 1].take)
            continue; // nothing opens between two takes
        if (plan.segments[i].stretch || plan.segments[i - 1].stretch)
            continue; // told by aboutTails()
        const FrameCount opened = plan.segments[i].shift - plan.segments[i - 1].shift;
        if (opened > toFrames(longestHole, session.rate))
            warnings.push_back(
                {plan.segments[i].sounds.begin, WarningKind::longHole,
                 fmt::format("A hole of {} opens before this slice", milliseconds(opened, session.rate)),
                 toMilliseconds(opened, session.rate).value / 25});
    }
}

/// One drum's mics shifted far against the others: the phase between them changes.
void aboutShifts(const Session& session, const Plan& plan, std::vector<Warning>& warnings) {
    for (const PlannedPatch& planned : plan.patches) {
        const Patch& patch = session.patches[planned.patch];
        const double shift = toMilliseconds(patch.shift, session.rate).value;
        if (patch.kind == PatchKind::shift && std::abs(shift) > session.seams.farShift.value)
            warnings.push_back(
                {planned.sounds.begin, WarningKind::shiftedPatch,
                 fmt::format("A stroke sounds {} ms {} than the other mics have it, which cancels first at {} Hz",
                             trimmedNumber(std::abs(shift), 1), shift < 0 ? "earlier" : "later",
                             trimmedNumber(firstNotch(patch.shift, session.rate), 0)),
                 std::abs(shift) / 2});
    }
}

/// Those that are stretched beyond what the session allows, and those that sound again.
void aboutTails(const Session& session, const Plan& plan, std::vector<Warning>& warnings) {
    for (const Segment& segment : plan.segments)
        if (segment.stretch && segment.stretch->ratio() > session.seams.mostStretch)
            warnings.push_back({segment.sounds.begin, WarningKind::stretchedTail,
                                fmt::format("A tail is stretched to {} times its length here",
                                            trimmedNumber(segment.stretch->ratio(), 2)),
                                3 * segment.stretch->ratio()});
    for (const Seam& seam : plan.seams)
        if (seam.kind == SeamKind::repeated)
            warnings.push_back(
                {seam.range.begin, WarningKind::repeatedTail,
                 fmt::format("{} of a tail sound again here, since the hole is longer than what rings",
                             milliseconds(seam.again, session.rate)),
                 8});
}

} // namespace

std::string_view name(WarningKind kind) {
    constexpr EnumNames<WarningKind, WarningKind::nothingFound> names{
        "doubtful-line",  "unlike-stroke", "moved-far",     "held-together",  "long-hole",
        "stretched-tail", "repeated-tail", "beyond-reach",  "crowded-border", "lost-correction",
        "lost-seam",      "lost-patch",    "shifted-patch", "nothing-found"};
    return names.of(kind);
}

std::vector<Warning> warningsOf(const Session& session, const Edited& edit) {
    const MusicalMap map(session.map, session.rate);
    std::vector<Warning> warnings;
    for (std::size_t i = 0; i < edit.landings.size(); ++i)
        aboutLanding(session, edit.hits[i], edit.landings[i], warnings);
    aboutHoles(session, edit.plan, warnings);
    aboutTails(session, edit.plan, warnings);
    aboutShifts(session, edit.plan, warnings);
    for (const CrowdedBorder& border : edit.crowded)
        warnings.push_back(
            {asResult(border.at), WarningKind::crowdedBorder,
             fmt::format("No quiet place was found for the border in bar {}, so the take before it goes on",
                         map.barAt(border.at)),
             15});
    const auto whereIs = [&](TakeLetter letter, SourceFrame at) {
        const auto take = session.takeLettered(letter);
        const auto place = take ? songPlace(session.form, at + session.takes[*take].shift()) : std::nullopt;
        return asResult(place.value_or(SongFrame{0}));
    };
    for (const Correction& correction : edit.lost)
        warnings.push_back({whereIs(correction.take, correction.at), WarningKind::lostCorrection,
                            fmt::format("A correction in take {} no longer finds its hit", correction.take.text()),
                            8, TakePlace{correction.take, correction.at}});
    for (const SeamByHand& seam : edit.lostSeams)
        warnings.push_back(
            {whereIs(seam.between.take, seam.between.behind), WarningKind::lostSeam,
             fmt::format("A seam shaped by hand in take {} no longer finds its hits", seam.between.take.text()), 8,
             TakePlace{seam.between.take, seam.between.behind}});
    for (const Patch& patch : edit.lostPatches)
        warnings.push_back({whereIs(patch.at.take, patch.at.at), WarningKind::lostPatch,
                            fmt::format("A patch in take {} no longer finds its hit", patch.at.take.text()), 8,
                            patch.at});
    if (edit.hits.empty())
        warnings.push_back({ResultFrame{0}, WarningKind::nothingFound,
                            "No hits were found: choose a guide or lower its threshold", 20});
    std::stable_sort(warnings.begin(), warnings.end(),
                     [](const auto& a, const auto& b) { return a.gravity > b.gravity; });
    return warnings;
}

} // namespace lampo
