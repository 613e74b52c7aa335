#pragma once

#include "base/enum_names.h"

#include <cstdint>
#include <string>

namespace lampo {

/// What is wrong with a place of the result.
enum class ProofKind {
    doubledAttack,  ///< an attack that no stroke explains, or one that sounds twice
    lostAttack,     ///< a stroke whose attack is gone, or weaker than it was
    click,          ///< a step in the sound that the recording does not have
    dip,            ///< the level sinks or swells where two slices meet
    stutter,        ///< a stretch sounds again
    swallowedRing,  ///< what rings is cut off, or jumps
    flam,           ///< strokes that are farther apart, or nearer, than they were played
    wrongLine,      ///< a hit that may mean another line
    loose,          ///< a hit that sounds late or early
    phase,          ///< mics of one drum that lie otherwise to one another than they were recorded
    level,          ///< a mic is louder or softer than before
    silent,         ///< a mic falls silent
    stretched,      ///< a tail is stretched, or a hole filled, beyond the limits
    lostCorrection, ///< what the user said finds no hit any more
    map,            ///< the hits speak against the map
};
/// As reports, projects and the command line have it.
inline constexpr EnumNames<ProofKind, ProofKind::map> proofKindNames{
    "doubled-attack", "lost-attack", "click", "dip",    "stutter",   "swallowed-ring",  "flam", "wrong-line",
    "loose",          "phase",       "level", "silent", "stretched", "lost-correction", "map"};
/// For people: "click", "swallowed ring".
std::string_view name(ProofKind kind);

/// What the user said about a place.
enum class ProofState {
    open,  ///< nothing
    fine,  ///< it is as it should be
    later, ///< it is to be looked at again
};
/// As reports and projects have it.
inline constexpr EnumNames<ProofState, ProofState::later> proofStateNames{"open", "fine", "later"};

/// An answer to one place of the proof. It counts as long as that place is as it was when it was given.
struct ProofAnswer {
    ProofKind kind = ProofKind::click;   ///< of the place
    std::uint64_t content = 0;           ///< what the place follows from, as a hash
    ProofState state = ProofState::fine; ///< what was said; never open
    std::string note{};                  ///< in the user's words
    bool operator==(const ProofAnswer&) const = default;
};

} // namespace lampo
