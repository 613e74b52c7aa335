#pragma once

#include "session/session.h"

namespace lampo {

/// After the map changed from `before`: borders, their fades and tries that lay on a line of the old map (a 64th or
/// a triplet of one, to the frame) lie on the same line of the new one. What was put elsewhere stays.
void keepOnTheirLines(Session& session, const MapData& before);

} // namespace lampo
