#pragma once

#include "base/position.h"
#include "session/role.h"

#include <optional>
#include <string>

namespace lampo {

/// What the user said about one place of one take. Kept by source position, so that it survives every change of
/// settings; it speaks of the hit whose anchor lies within `correctionTolerance` of `at`.
struct Correction {
    enum class Kind {
        add,    ///< there is a hit here
        remove, ///< there is none
        pin,    ///< it stays as played
        place,  ///< it lands on `landing`
    };
    Kind kind = Kind::pin;
    char take = 'A';
    SourceFrame at;
    ResultFrame landing;        ///< of a placed hit
    Voice voice = Voice::other; ///< of an added hit
    bool operator==(const Correction&) const = default;
};

/// Below the shortest gap of two hits, above what a re-analysis moves an anchor by.
inline constexpr FrameCount correctionTolerance{480};

} // namespace lampo
