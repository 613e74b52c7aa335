#pragma once

#include "render/kit_reader.h"

namespace lampo {

/// How loud a mic that a patch does not touch hears what the patch changes.
struct KeptIn {
    std::string mic; ///< its stem
    Decibels level;  ///< against the loudest of the patch's own mics
};

/// What the other mics keep of the stroke that a patch lies on, the loudest first: by how much the edges of the
/// sound (its first differences) rise there from the quieter half of the 30 ms before the stroke to the 30 ms
/// behind its start, whoever else was struck then; those in which nothing rises are left out. Errors: those of
/// AudioReader.
Expected<std::vector<KeptIn>> keptElsewhere(const Session& session, KitReader& kit, const Patch& patch);

} // namespace lampo
