#pragma once

#include "map/map_data.h"

#include <nlohmann/json.hpp>

namespace lampo {

/// Tempo, meter and bar 1 in project files.
nlohmann::json mapJson(const MapData& map);
/// Throws jsonfields::Damage.
MapData readMap(const nlohmann::json& j);

} // namespace lampo
