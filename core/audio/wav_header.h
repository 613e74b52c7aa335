#pragma once

#include "audio/file_bytes.h"

#include <optional>

namespace lampo {

/// What the header of a RIFF WAVE file says beside what the file holds. Of other files nothing is said.
struct WavHeader {
    /// It promises more sample data than there is: a recording or a copy that broke off. Decoders read such a file
    /// as a shorter one without a word.
    bool breaksOff = false;
    /// It says that there is no sample data though some follows: the recorder lost power before it wrote the
    /// length.
    bool lacksLength = false;
    /// Of a chunk "bext" before the data (EBU Tech 3285): frames since midnight.
    std::optional<std::int64_t> timeReference{};
};

/// Reads it, and overlays in `bytes` what decoders would not understand: the data's length where it is lacking, up
/// to the file's end, and RF64 for its successor BW64 (ITU-R BS.2088), where samples and lengths lie alike.
WavHeader readWavHeader(FileBytes& bytes);

} // namespace lampo
