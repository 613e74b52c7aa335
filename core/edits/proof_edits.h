#pragma once

#include "base/error.h"
#include "session/session.h"

#include <string>
#include <vector>

namespace lampo {

/// What the user says about places of the proof; each takes the place of what was said about the same place. An
/// answer with the state open takes that back.
struct ProofEdit {
    std::vector<ProofAnswer> answers; ///< at least one
};

/// See edited() and describe() in edit.h.
Expected<void> apply(const ProofEdit& edit, Session& session);
std::string describe(const Session& session, const ProofEdit& edit);

} // namespace lampo
