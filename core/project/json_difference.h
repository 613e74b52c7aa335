#pragma once

#include <nlohmann/json.hpp>

#include <cstddef>

namespace lampo {

/// What makes `to` of `from`: a JSON Merge Patch (RFC 7396), for nlohmann::json::merge_patch. Both are objects, and
/// nothing in them is null, which the patch keeps for what is gone.
nlohmann::json difference(const nlohmann::json& from, const nlohmann::json& to);

/// Values in it, itself and those inside others included.
std::size_t countValues(const nlohmann::json& value);

} // namespace lampo
