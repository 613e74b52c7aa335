#pragma once

#include "map/musical_map.h"
#include "proof/place.h"

#include <span>
#include <vector>

namespace lampo {

/// Places of one kind that lie near one another and were answered alike: one line of the list.
struct ProofEntry {
    std::vector<std::size_t> places;     ///< in the list of places, by time; at least one
    Range<ResultFrame> where;            ///< from the first to the last
    ProofKind kind = ProofKind::click;   ///< of all of them
    ProofState state = ProofState::open; ///< of all of them
    double gravity = 0;                  ///< of the worst
    std::string text;                    ///< "Bars 14 to 15: 10 hits …", without a full stop
};

/// The worst first. Pure.
std::vector<ProofEntry> entriesOf(std::span<const ProofPlace> places, const MusicalMap& map);

} // namespace lampo
