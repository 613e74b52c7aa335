#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"
#include "proof/place.h"

#include <string>
#include <vector>

namespace lampo {

/// Something that can be done about a place.
struct Remedy {
    std::string label; ///< for a button: "Longer fade"
    Edit edit;         ///< that does it
};

/// What can be done about a place, the likeliest first; nothing where only a person can tell. Those that would
/// change nothing, or that the session refuses, are left out. Pure.
std::vector<Remedy> remediesFor(const Session& session, const Outcome& outcome, const ProofPlace& place);

} // namespace lampo
