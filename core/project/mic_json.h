#pragma once

#include "project/json_fields.h"
#include "session/session.h"

namespace lampo {

/// A mic in project files and kit layouts.
nlohmann::json micJson(const Mic& mic);
/// Throws jsonfields::Damage.
Mic readMic(const nlohmann::json& json);

} // namespace lampo
