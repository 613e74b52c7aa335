#pragma once

#include "pipeline/outcome.h"
#include "proof/place.h"
#include "support/dice.h"

#include <string>
#include <vector>

namespace lampo::test {

/// A fault that was put into a print, in a known place.
struct PlantedFault {
    ProofKind kind = ProofKind::click; ///< what it is to be called
    Range<ResultFrame> where;          ///< all that was changed
    MicSet mics = 0;                   ///< that were changed
    double size = 0;                   ///< in the unit that the kind is planted by (see plantedUnit)
};
/// What sizes of planted faults are given in.
const char* plantedUnit(ProofKind kind);
/// Kinds that can be put into a print; the others follow from the session.
inline constexpr ProofKind plantedKinds[] = {
    ProofKind::doubledAttack, ProofKind::lostAttack,    ProofKind::click, ProofKind::dip,
    ProofKind::stutter,       ProofKind::swallowedRing, ProofKind::flam,  ProofKind::wrongLine,
    ProofKind::loose,         ProofKind::phase,         ProofKind::level, ProofKind::silent};

using KitPrint = std::vector<std::vector<float>>; ///< mics x frames

/// What the plan sounds like, whole.
KitPrint printOf(const Session& session, const Outcome& outcome);
/// A stroke whose attack is known to lie somewhere in the print.
struct KnownStroke {
    std::int64_t at; ///< frame
    std::size_t mic; ///< of its drum
    bool main;       ///< a strong one, with a mic of its own: faults of strokes are planted there
};
/// Puts faults of one kind into the print, most of a second or more from one another, as many as fit; sizes are
/// drawn from the whole range that the kind is planted with.
std::vector<PlantedFault> plant(KitPrint& print, ProofKind kind, const Session& session,
                                const std::vector<KnownStroke>& strokes, Dice& dice);
/// Whether a place tells of a fault: the kind, one of its mics, and where.
bool tellsOf(const ProofPlace& place, const PlantedFault& fault, SampleRate rate);

} // namespace lampo::test
