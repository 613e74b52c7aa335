#pragma once

#include "base/error.h"
#include "pipeline/outcome.h"

#include <memory>

namespace lampo {

/// What is listened to: the edit, as the window's switches have it; one take as it was recorded; a kept version;
/// the print that a version was made into; or the edit as it was played, by its cuts alone, or as it lands,
/// whatever the switches say.
struct Monitored {
    enum class Kind { edit, take, version, print, played, cuts, landed };
    Kind kind = Kind::edit;
    std::size_t index = 0; ///< of the take or version
    bool operator==(const Monitored&) const = default;
};

/// A session's mics, and what they play.
struct Sounding {
    Session session;
    std::shared_ptr<const Plan> plan;
};

/// What would be heard; of versions as landed or as played. Pure but for a print, whose folder is read. Errors:
/// badValue when there is no such take, version or print any more, those of importFolder.
Expected<Sounding> soundingOf(const Monitored& what, const Session& session, const Outcome& outcome,
                              const Analyses& analyses, bool landed = true);

} // namespace lampo
