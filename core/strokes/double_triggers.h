#pragma once

#include "base/units.h"

#include <span>
#include <vector>

namespace lampo {

/// A stroke, as dated so far.
struct DatedStroke {
    Milliseconds at; ///< from the begin of the take
    Decibels level;  ///< against the drum's strong strokes
};

/// Which strokes of one drum are only the going on of the one before: dated at the same moment, or behind many
/// strong ones at always one distance, as hands never are but shells that swell behind the beater and walls close
/// by are. `strokes` ascend in time. One entry for each; the first is never one.
std::vector<bool> doubleTriggers(std::span<const DatedStroke> strokes);

} // namespace lampo
