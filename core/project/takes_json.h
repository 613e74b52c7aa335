#pragma once

#include "project/json_fields.h"
#include "session/session.h"

namespace lampo {

/// Writes what is chosen among the takes into a project's object: comp, form, ratings, tries.
void writeChoices(const Session& session, nlohmann::json& out);
/// Reads it back; `session.takes` are there already. What was written before there were comps named one take that
/// sounds. Throws jsonfields::Damage.
void readChoices(const nlohmann::json& json, Session& session);

} // namespace lampo
