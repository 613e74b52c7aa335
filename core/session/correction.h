#pragma once

#include "base/enum_names.h"
#include "base/indices.h"
#include "base/position.h"
#include "base/units.h"
#include "session/role.h"

#include <string>

namespace lampo {

/// A place in one take's files.
struct TakePlace {
    TakeLetter take; ///< whose files they are
    SourceFrame at;  ///< in them
    bool operator==(const TakePlace&) const = default;
};

/// What the user said about one place of one take. Kept by source position, so that it survives every change of
/// settings; it speaks of the hit that was found nearest to `at` within `correctionTolerance`.
struct Correction {
    /// What is said.
    enum class Kind {
        add,    ///< there is a hit here
        cut,    ///< no attack, but cut here anyway; the cut moves with its neighbours
        remove, ///< there is none
        mark,   ///< its attack begins at `to`
        split,  ///< what falls together here are separate hits, one for each guide
        join,   ///< the hit at `to` belongs to it
        anchor, ///< `mic` gives the anchor
        drum,   ///< it is a stroke of `voice`
        pin,    ///< it stays as played
        place,  ///< it lands `moved` away from where `at` was played
        line,   ///< it means the line nearest to `moved` away from where `at` was played
    };
    Kind kind = Kind::pin;      ///< what is said
    TakeLetter take;            ///< whose hit it is
    SourceFrame at;             ///< where that was found
    FrameCount moved{};         ///< of `place` and `line`
    Voice voice = Voice::other; ///< of `add` and `drum`
    SourceFrame to{};           ///< of `mark` and `join`
    std::string mic{};          ///< of `add` (may be empty) and `anchor`: a stem
    bool operator==(const Correction&) const = default;
};

/// Corrections of different aspects of one hit stand side by side; of one aspect the last one counts.
enum class Aspect { existence, start, cluster, anchor, drum, landing };
Aspect aspectOf(Correction::Kind kind);
/// As projects have it.
inline constexpr EnumNames<Correction::Kind, Correction::Kind::line> correctionNames{
    "add", "cut", "remove", "mark", "split", "join", "anchor", "drum", "pin", "place", "line"};
std::string_view name(Correction::Kind kind);
inline constexpr int correctionKinds = static_cast<int>(correctionNames.count);

/// 10 ms: below the shortest gap of two hits, above what a re-analysis moves an anchor by.
FrameCount correctionTolerance(SampleRate rate);

} // namespace lampo
