#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

struct SetLeadIn {
    Milliseconds time;
};
struct SetFade {
    Milliseconds time;
};
struct SetFill {
    Fill fill;
};

using SeamEdit = std::variant<SetLeadIn, SetFade, SetFill>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const SeamEdit& edit, Session& session);
std::string describe(const Session& session, const SeamEdit& edit);

} // namespace lampo
