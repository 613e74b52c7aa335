#pragma once

#include "base/error.h"
#include "map/feel.h"

#include <filesystem>
#include <string_view>

namespace lampo {

/// A feel in a file of its own: see docs/formats.md.
std::string feelText(const Feel& feel);
/// `named` is for the sentence. Errors: badValue (no feel).
Expected<Feel> feelFromText(std::string_view text, const std::string& named);

/// The feel in a file: one of our own, or the notes of a Standard MIDI File against a grid of sixteenths, in the
/// bar of its first meter; such a feel bears the file's name. Errors: those of readWhole, midiFromBytes and
/// feelFromText; badValue (no notes).
Expected<Feel> readFeelFile(const std::filesystem::path& file);
/// Complete under its name or not there at all. Errors: those of writeAtomically.
Expected<void> writeFeelFile(const std::filesystem::path& file, const Feel& feel);

} // namespace lampo
