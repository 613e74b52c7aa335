#pragma once

#include <filesystem>

namespace lampo {

/// True when a RIFF WAVE file (also RF64) promises more sample data than the file holds: a recording or a copy that
/// broke off. Decoders read such a file as a shorter one without a word. False for anything that is not a WAV.
bool wavIsTruncated(const std::filesystem::path& file);

} // namespace lampo
