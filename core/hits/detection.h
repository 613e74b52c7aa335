#pragma once

#include "onsets/onset_finder.h"
#include "session/role.h"

namespace lampo {

/// What to listen for in a mic of this role: the bands in which its drum tells itself apart from its neighbours.
OnsetSettings onsetSettings(Role role);

} // namespace lampo
