#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

/// How long before its attack a slice begins.
struct SetLeadIn {
    Milliseconds time; ///< limits::leadIn
};
/// How long the crossfade of a seam is.
struct SetFade {
    Milliseconds time; ///< limits::fade
};
/// What becomes of holes.
struct SetFill {
    Fill fill; ///< for all of them
};

using SeamEdit = std::variant<SetLeadIn, SetFade, SetFill>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const SeamEdit& edit, Session& session);
std::string describe(const Session& session, const SeamEdit& edit);

} // namespace lampo
