#pragma once

#include "project/json_fields.h"
#include "session/session.h"

namespace lampo {

/// Phrases, shoves, slips, seams, feels and what to land on, into the session's object; what is not there is not
/// written.
void writeByHand(const Session& session, nlohmann::json& out);
/// Throws jsonfields::Damage. Older projects have none of it.
void readByHand(const nlohmann::json& json, Session& session);

/// One feel, in a project or in a file of its own.
nlohmann::json feelJson(const Feel& feel);
/// Throws jsonfields::Damage.
Feel readFeel(const nlohmann::json& json);

/// Which feel is in use, in the song or in a section. Without a name: none.
nlohmann::json feelUseJson(const FeelUse& use);
FeelUse readFeelUse(const nlohmann::json& json);

} // namespace lampo
