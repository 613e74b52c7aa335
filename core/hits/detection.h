#pragma once

#include "onsets/onset_finder.h"
#include "session/session.h"

namespace lampo {

/// What to listen for in a mic of this role: the bands in which its drum tells itself apart from its neighbours.
BandWeights defaultEmphasis(Role role);
/// The mic's own emphasis, or that of its role.
BandWeights emphasisOf(const Mic& mic);
OnsetSettings onsetSettings(const BandWeights& emphasis);

} // namespace lampo
