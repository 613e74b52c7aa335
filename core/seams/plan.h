#pragma once

#include "base/mic_set.h"
#include "seams/seam_answers.h"
#include "seams/stretch.h"
#include "session/seam_by_hand.h"

#include <cstddef>
#include <string_view>
#include <vector>

namespace lampo {

/// Material of one take, moved by one whole number of frames.
struct SliceSource {
    TakeIndex take;       ///< index in the session
    SourceToResult shift; ///< that leads from its source to where it sounds
    bool operator==(const SliceSource&) const = default;
};

/// A stretch of one take that sounds, on all mics of the kit, moved by one whole number of frames. A mic has no
/// positions of its own: that is the phase lock.
struct Segment {
    TakeIndex take;                       ///< index in the session
    SourceToResult shift;                 ///< that leads from its source to where it sounds
    Range<ResultFrame> sounds;            ///< with its fades
    FrameCount fadeIn;                    ///< frames at its start during which it comes up
    FrameCount fadeOut;                   ///< and at its end during which it goes away
    std::optional<float> likeness{};      ///< by which it comes up out of the one before; none: that of their sound
    FadeCurve curve = FadeCurve::matched; ///< by which it comes up, and the one before goes away
    std::optional<Stretch> stretch{};     ///< a lengthened tail; `shift` is then that of its begin
    bool operator==(const Segment&) const = default;

    /// Where a frame of the take's files sounds, if it does.
    ResultFrame placeOf(SourceFrame at) const { return stretch ? stretch->placeOf(at) : at + shift; }
    /// Where in the take's files it comes from.
    SourceFrame sourceAt(ResultFrame at) const { return stretch ? stretch->sourceAt(at) : at - shift; }
};

enum class SeamKind {
    crossfade, ///< the later slice came nearer, or both moved alike and only the cut shows
    borrowed,  ///< the later slice starts earlier and fills the hole with the earlier hit's tail
    repeated,  ///< the hole is longer than one tail: a part of the tail sounds again
    stretched, ///< into or out of a tail that is lengthened to fill the hole
    border,    ///< from one take to another, or to another place of the same
    opened,    ///< a slice fades in behind a hole that stays
    closed,    ///< a slice fades out before a hole that stays
};
std::string_view name(SeamKind kind);

/// What decided where a seam lies.
enum class PlacedBy {
    rule,   ///< as late as the lead-in allows
    search, ///< what it sounds like
    hand,   ///< the user
};
inline constexpr EnumNames<PlacedBy, PlacedBy::hand> placedByNames{"rule", "search", "hand"};

/// Where the sound passes from one segment to the next.
struct Seam {
    Range<ResultFrame> range;            ///< in which both sides sound
    SeamKind kind = SeamKind::crossfade; ///< how they meet
    PlacedBy by = PlacedBy::rule;        ///< what decided its place
    float dip = 0;      ///< dB that some mic falls under the quieter side; 0 where by is not search
    float ruledDip = 0; ///< dB, the same where the rule would have put it
    float ring = 0;     ///< dB that what rings in the overheads jumps there; 0 where by is not search
    std::optional<SeamBetween> between{}; ///< the hits that it can be taken in hand by
    FrameCount ahead{};                   ///< with `between`: how long before the later hit's first attack it ends
    Range<ResultFrame> room{};            ///< and in which it may lie
    FadeCurve curve = FadeCurve::matched; ///< how its sides fade
    double stretch = 1;                   ///< of a stretched one: how many times its length the tail becomes
    FrameCount again{};                   ///< of a repeated one: how much sounds again behind it
    bool operator==(const Seam&) const = default;
};

/// A patch where it sounds: on some mics something else than what the segments say.
struct PlannedPatch {
    std::size_t patch = 0;     ///< index in Session::patches
    Range<ResultFrame> sounds; ///< with its fades
    FrameCount fadeIn;         ///< frames at its start during which it comes up
    FrameCount fadeOut;        ///< and at its end during which it goes away
    MicSet mics = 0;           ///< that it lies on
    float gain = 1;            ///< amplitude, 0 for silence
    /// What sounds instead of the plan, as if it sounded always; none: the plan's sound, at another gain.
    std::optional<SliceSource> from{};
    bool operator==(const PlannedPatch&) const = default;
};

/// Among Plan::seams.
using SeamIndex = Index<Seam>;

/// The whole edit: segments in order, each overlapping at most its neighbours, and only inside seams.
struct Plan {
    FrameCount length;                   ///< of the song
    std::vector<Segment> segments;       ///< in order, one behind another
    std::vector<Seam> seams;             ///< in order, where segments overlap
    std::vector<SeamQuestion> open{};    ///< seams that lie by the rule until a search has answered
    std::vector<PlannedPatch> patches{}; ///< by where they begin; of those that overlap the later one lies on top
    bool operator==(const Plan&) const = default;
};

/// Takes away what was planned before the song begins, where a take that began earlier was cut: nothing of it
/// sounds.
void dropBeforeTheSong(Plan& plan);

/// A take as it was recorded, as a plan like any other.
Plan asPlayedPlan(TakeIndex take, SourceToSong shift, FrameCount length);

} // namespace lampo
