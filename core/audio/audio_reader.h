#pragma once

#include "base/error.h"
#include "base/position.h"
#include "base/units.h"

#include <filesystem>
#include <memory>
#include <span>
#include <string>

namespace lampo {

struct AudioInfo {
    int channels = 0;
    SampleRate rate;
    FrameCount length;
    bool floatingPoint = false;
};

/// One mono audio file, opened read-only (WAV, BWF, RF64, FLAC, AIFF). Samples are floats, full scale ±1; integer
/// formats up to 24 bits arrive exactly. One thread at a time.
class AudioReader {
public:
    /// Errors: notFound, empty, unreadable, truncated, notMono; each sentence names the file.
    static Expected<AudioReader> open(const std::filesystem::path& file);

    AudioReader(AudioReader&&) noexcept;
    AudioReader& operator=(AudioReader&&) noexcept;
    ~AudioReader();

    const AudioInfo& info() const { return info_; }
    const std::filesystem::path& file() const { return file_; }

    /// Fills `into` with frames from `at` on; what lies before the first or behind the last frame is silence.
    /// Errors: truncated (the file ends before its header says), notANumber (NaN or infinite samples).
    Expected<void> read(SourceFrame at, std::span<float> into);

private:
    struct Handle;
    AudioReader(std::unique_ptr<Handle> handle, AudioInfo info, std::filesystem::path file);

    Expected<void> readInside(SourceFrame at, std::span<float> into);

    std::unique_ptr<Handle> handle_;
    AudioInfo info_;
    std::filesystem::path file_;
    SourceFrame next_;
};

/// Reads a floating point file from end to end and reports the first NaN or infinite sample (notANumber), or a file
/// that breaks off (truncated). Integer files only have their last frames read: they cannot hold a NaN.
Expected<void> checkSamples(AudioReader& reader);

} // namespace lampo
