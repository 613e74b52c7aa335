#pragma once

#include "session/session.h"

#include <nlohmann/json.hpp>
#include <filesystem>

namespace lampo {

/// A drum's sample as a project in `folder` holds it.
nlohmann::json sampleJson(const DrumSample& sample, const std::filesystem::path& folder);
/// The other way round. Throws jsonfields::Damage.
DrumSample readSample(const nlohmann::json& j, const std::filesystem::path& folder);

} // namespace lampo
