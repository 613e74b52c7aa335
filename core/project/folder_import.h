#pragma once

#include "base/error.h"
#include "session/session.h"

#include <filesystem>
#include <string>
#include <vector>

namespace lampo {

/// The mics of a kit from their file names, in kit order (kick, snare, toms, hat, cymbals, overheads, room,
/// others), roles guessed, guides chosen: for each kick, snare and tom the mic that hears its attack best.
std::vector<Mic> kitOf(const std::vector<std::string>& stems);

/// A session of one take from a folder of mono WAV, FLAC or AIFF files, one per mic. Only headers are read.
/// Errors: notFound, noAudio, those of AudioReader::open, rateDiffers, lengthDiffers.
Expected<Session> importFolder(const std::filesystem::path& folder);

} // namespace lampo
