#pragma once

#include "edits/edit.h"
#include "options.h"

namespace lampo::cli {

/// The edits that the options stand for, in the order in which they are applied. Errors: badValue (no such mic),
/// and those of the files that are read (a tempo map, a feel).
Expected<std::vector<Edit>> editsOf(const Options& options, const Session& session);

} // namespace lampo::cli
