#pragma once

#include "base/error.h"
#include "session/session.h"

#include <optional>
#include <string>
#include <variant>

namespace lampo {

/// Which key a drum's notes have.
struct SetMidiKey {
    std::string mic;        ///< the stem of its mic
    std::optional<int> key; ///< 0 to 127; none: the usual one
};
/// How loud notes are by the level of their strokes.
struct SetVelocityCurve {
    VelocityCurve curve; ///< of all drums
};

using MidiEdit = std::variant<SetMidiKey, SetVelocityCurve>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const MidiEdit& edit, Session& session);
std::string describe(const Session& session, const MidiEdit& edit);

} // namespace lampo
