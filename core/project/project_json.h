#pragma once

#include "base/error.h"
#include "session/session.h"

#include <filesystem>
#include <string>
#include <string_view>

namespace lampo {

/// The session as text (docs/formats.md). Files below `folder` are written relative to it, so that a project moved
/// with its recordings still finds them.
std::string projectText(const Session& session, const std::filesystem::path& folder);

/// Reads what projectText wrote; hostile input is refused, never trusted: size, nesting, counts and every value's
/// range are checked. `named` is the file's name, for the sentence. Errors: damagedProject.
Expected<Session> sessionFromText(std::string_view text, const std::filesystem::path& folder,
                                  const std::string& named);

} // namespace lampo
