#pragma once

#include "base/enum_names.h"
#include "base/limits.h"
#include "base/units.h"
#include "map/feel.h"
#include "map/note_value.h"
#include "session/role.h"

#include <array>
#include <optional>
#include <string_view>

namespace lampo {

/// What becomes of a hit outside the pocket.
enum class Pull {
    toLine, ///< it goes to its line
    toEdge, ///< only as far as the pocket's edge
};

/// As projects and the command line have it.
inline constexpr EnumNames<Pull, Pull::toEdge> pullNames{"line", "edge"};

/// The farthest a hit may be moved; one that would go farther is left as played and flagged.
struct Reach {
    double value = limits::reach.defaultValue; ///< above 0, ms or steps
    bool inSteps = false;                      ///< parts of a grid step, otherwise ms
    bool operator==(const Reach&) const = default;
};

/// What the hits of one drum do.
enum class DrumTiming {
    land, ///< on their lines
    ride, ///< between their neighbours' moves
    stay, ///< as played
};
/// As projects have it.
inline constexpr EnumNames<DrumTiming, DrumTiming::stay> drumTimingNames{"land", "ride", "stay"};
using DrumTimings = std::array<DrumTiming, voiceCount>;

/// How hits are brought to the grid, for what no section sets otherwise.
struct TimingSettings {
    NoteValue grid{1, 16};                            ///< from line to line
    double strength = limits::strength.defaultValue;  ///< per cent
    double swing = limits::swing.defaultValue;        ///< per cent of two steps: where the second one begins
    Milliseconds pocket{limits::pocket.defaultValue}; ///< within this of their line hits stay as played
    Pull pull = Pull::toLine;                         ///< where hits outside the pocket go
    std::optional<Reach> reach{};                     ///< none: any distance
    DrumTimings drumTimings{};                        ///< by voice
    FeelUse feel{};                                   ///< which feel bends the lines
    bool operator==(const TimingSettings&) const = default;
};

/// Which line a hit means: the one that a path through all hits gives it, or simply the nearest.
enum class Assign { path, nearest };
/// As projects and the command line have it.
inline constexpr EnumNames<Assign, Assign::nearest> assignNames{"path", "nearest"};

/// What becomes of a hole that opens where a slice moved away from the one before it.
enum class Fill {
    borrow,  ///< the later slice starts earlier, with the earlier hit's own tail
    stretch, ///< the earlier hit's tail is lengthened
    open,    ///< it stays a hole, for listening to the raw cuts
};
/// As projects and the command line have it.
inline constexpr EnumNames<Fill, Fill::open> fillNames{"borrow", "stretch", "open"};
/// As a sentence has it: "borrowed into".
std::string_view whatBecomes(Fill fill);

/// How the two sides of a seam fade into one another.
enum class FadeCurve {
    matched,    ///< by how much they are alike: constant power
    equalPower, ///< −3 dB in the middle: constant power for sides that have nothing in common
    equalGain,  ///< −6 dB in the middle: constant amplitude for sides that are the same
    decibels,   ///< straight in decibels: the sides hardly meet
};
/// As projects and the command line have it.
inline constexpr EnumNames<FadeCurve, FadeCurve::decibels> fadeCurveNames{"matched", "equal-power", "equal-gain",
                                                                          "decibels"};
/// "matched", "equal power".
std::string_view name(FadeCurve curve);

/// How slices are joined.
struct SeamSettings {
    Milliseconds leadIn{limits::leadIn.defaultValue};  ///< kept before the earliest attack of a hit
    Milliseconds fade{limits::fade.defaultValue};      ///< of a crossfade, limits::fade
    Fill fill = Fill::borrow;                          ///< what becomes of holes
    FadeCurve curve = FadeCurve::matched;              ///< of all fades
    double mostStretch = limits::stretch.defaultValue; ///< tails stretched more are marked; limits::stretch
    Milliseconds farShift{
        limits::farShift.defaultValue}; ///< patches shifted farther are warned of; limits::farShift
    bool operator==(const SeamSettings&) const = default;
};

/// How much each band of a guide counts when it is listened to for hits: below 150 Hz, 150 to 700 Hz, 700 Hz to
/// 3.5 kHz, and above. Amplitudes, within limits::bandWeight.
using BandWeights = std::array<double, 4>;

/// Cuts that cannot matter are left out: only hits within `near` of a line of `value` count.
struct Finest {
    NoteValue value{1, 16};                             ///< of the finest note that counts
    Milliseconds near{limits::nearFinest.defaultValue}; ///< to one of its lines
    bool operator==(const Finest&) const = default;
};

/// Which of the strokes of one hit lands on the line.
enum class Anchor {
    rank,    ///< that of the highest-ranked drum that struck, but for strokes 12 dB softer than the loudest
    loudest, ///< each by its own drum's strong strokes
    middle,  ///< none of them, but the middle between the first and the last
};

/// As projects and the command line have it, in the order of the values.
inline constexpr EnumNames<Anchor, Anchor::middle> anchorNames{"rank", "loudest", "middle"};
std::string_view name(Anchor anchor);

/// Which strokes are one hit, and which of them lands.
struct ClusterSettings {
    /// Strokes of different drums this near are one hit: hands that mean one moment are up to
    /// 25 ms apart (common practice, no source).
    Milliseconds window{limits::oneHit.defaultValue};
    Anchor anchor = Anchor::rank; ///< which of its attacks lands
    bool operator==(const ClusterSettings&) const = default;
};

} // namespace lampo
