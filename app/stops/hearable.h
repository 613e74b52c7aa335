#pragma once

#include "document/sounding.h"

#include <QString>

#include <utility>
#include <vector>

namespace lampo {

/// Something that can be listened to, and what it is called.
using Hearable = std::pair<QString, Monitored>;

/// Takes as they were recorded.
std::vector<Hearable> hearableTakes(const Session& session);
/// Kept versions, then what was printed of them.
std::vector<Hearable> hearableVersions(const Session& session);

} // namespace lampo
