#pragma once

#include "render/kit_reader.h"

namespace lampo {

/// How much later than by its date a donor's stroke has to sound so that its attack falls on that of the stroke it
/// stands for, to the frame: where the two are most alike in the drum's own mics around the attack (normalised
/// cross-correlation, within 2 ms). None where they are not alike: a spoiled stroke says nothing, and the dates
/// hold. Errors: those of AudioReader.
Expected<FrameCount> alignedLater(const Session& session, KitReader& kit, const Patch& replacement);

} // namespace lampo
