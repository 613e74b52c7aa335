#pragma once

#include "base/error.h"
#include "session/session.h"

#include <filesystem>
#include <string>
#include <vector>

namespace lampo {

/// The mics of a kit from their file names, in kit order (kick, snare, toms, hat, cymbals, overheads, room,
/// others), roles guessed, guides chosen (for each kick, snare and tom the mic that hears its attack best), mics of
/// one drum and halves of one file ("x L" and "x R") in groups.
std::vector<Mic> kitOf(const std::vector<std::string>& stems);

/// planImport and sessionOf in one go, for a folder that is to be right as it is: the first file that cannot be
/// brought in, or that would have to be converted, padded or split, is the error. Errors: those of planImport and
/// of AudioReader::open, notMono, rateDiffers, lengthDiffers.
Expected<Session> importFolder(const std::filesystem::path& folder);

} // namespace lampo
