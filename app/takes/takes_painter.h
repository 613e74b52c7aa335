#pragma once

#include "takes/takes_state.h"

#include <QPainter>

namespace lampo {

/// One row for each take: a composite waveform of its guides, inked where it sounds, its bars' marks and what was
/// spoiled; under them the comp, each passage with its letter, a graft with where it is from.
void paintTakes(QPainter& painter, const TakesState& state, Document& document);

} // namespace lampo
