#pragma once

#include "project/json_fields.h"
#include "session/session.h"

namespace lampo {

/// How hits are brought to the grid, of the song.
nlohmann::json timingJson(const Session& session);
/// Throws jsonfields::Damage. What older projects lack is as usual.
void readTiming(const nlohmann::json& json, Session& session);

/// What a section sets of it, into the section's object.
void writeSectionTiming(const Section& section, nlohmann::json& out);
void readSectionTiming(const nlohmann::json& json, Section& section);

} // namespace lampo
