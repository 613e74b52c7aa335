#pragma once

#include "audio/source_file.h"

#include <nlohmann/json.hpp>
#include <filesystem>
#include <string>

namespace lampo {

/// A file's path as a project in `folder` holds it: relative where it lies below, so that both can be moved.
std::string stored(const std::filesystem::path& file, const std::filesystem::path& folder);
/// The other way round.
std::filesystem::path found(const std::string& stored, const std::filesystem::path& folder);

/// A source as a project in `folder` holds it.
nlohmann::json fileJson(const SourceFile& source, const std::filesystem::path& folder);
/// The other way round; a bare name is what a project without channels and offsets holds. Throws
/// jsonfields::Damage.
SourceFile readFile(const nlohmann::json& j, const std::filesystem::path& folder);

} // namespace lampo
