#pragma once

#include "session/proof_answer.h"

namespace lampo {

/// How large a fault of one kind is, from the smallest that is told to one that ruins the place. The sizes of all
/// kinds in one column bother a listener about as much; common practice, no source.
struct ProofScale {
    const char* unit; ///< of the sizes
    double told;      ///< told from here on: gravity 2
    double plain;     ///< anybody hears it: gravity 5
    double ruinous;   ///< the place cannot stay: gravity 9
};

/// The one table of limits of the proof.
const ProofScale& scaleOf(ProofKind kind);
/// 0 to 10, in straight lines between the sizes of the scale; below 2 it is not told.
double gravityOf(ProofKind kind, double size);
inline constexpr double toldGravity = 2; ///< places below it are not told

} // namespace lampo
