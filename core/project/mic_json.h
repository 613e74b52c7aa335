#pragma once

#include "project/json_fields.h"
#include "session/session.h"

namespace lampo {

/// A mic in project files and kit layouts.
nlohmann::json micJson(const Mic& mic);
/// Throws jsonfields::Damage.
Mic readMic(const nlohmann::json& json);
/// The member "mics", no more than a kit can have. Throws jsonfields::Damage.
std::vector<Mic> readMics(const nlohmann::json& json);

} // namespace lampo
