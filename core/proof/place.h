#pragma once

#include "base/mic_set.h"
#include "base/range.h"
#include "base/units.h"
#include "map/map_data.h"
#include "proof/scale.h"
#include "seams/plan.h"
#include "session/correction.h"

#include <cstdint>
#include <initializer_list>
#include <memory>
#include <optional>
#include <string>

namespace lampo {

/// A place of the result that wants an ear.
struct ProofPlace {
    Range<ResultFrame> where;             ///< where it sounds; never empty
    ProofKind kind = ProofKind::click;    ///< what is wrong
    double size = 0;                      ///< how much, in the unit of the kind's scale
    std::string text;                     ///< one sentence, without a full stop
    MicSet mics = allMics;                ///< in which it is heard
    std::uint64_t content = 0;            ///< of what it follows from: the same as long as nothing changes there
    std::optional<FrameCount> late{};     ///< how much later than it should something sounds, where that is known
    std::optional<HitIndex> hit{};        ///< that it is about
    std::size_t hits = 1;                 ///< of a run, how many from that one on
    std::optional<SeamIndex> seam{};      ///< that it is about
    std::optional<TakePlace> said{};      ///< where the user said what finds nothing any more
    std::shared_ptr<const MapData> map{}; ///< that the hits speak for; null: of another kind
    std::optional<std::size_t> patch{};   ///< that it is about, in Session::patches
    ProofState state = ProofState::open;  ///< what the user said of it
    std::string note{};                   ///< and in which words

    /// How bad it is, 0 to 10.
    double gravity() const { return gravityOf(kind, size); }
};

/// As long as a place is that has no length of its own.
inline Range<ResultFrame> momentAt(ResultFrame at, SampleRate rate) {
    return {at, at + toFrames(Milliseconds{50}, rate)};
}

/// A hash of numbers that a place follows from.
std::uint64_t contentOf(std::initializer_list<std::int64_t> numbers);

} // namespace lampo
