#pragma once

#include "audio/source_file.h"
#include "base/error.h"
#include "base/position.h"
#include "base/units.h"

#include <filesystem>
#include <memory>
#include <optional>
#include <span>
#include <string>

namespace lampo {

/// What a file's header says.
struct AudioInfo {
    int channels = 0;           ///< of the file
    SampleRate rate;            ///< that the samples are served at
    FrameCount length;          ///< at that rate, from the take's start to the file's end
    bool floatingPoint = false; ///< 32 or 64 bit float; otherwise whole numbers
    bool lacksLength = false;   ///< the header holds none, as after a power cut: all up to the file's end is sound
    std::optional<std::int64_t>
        timeReference{}; ///< of a Broadcast Wave file: frames of its own rate since midnight
};

/// What the header of an audio file says, at its own rate. Errors: those of AudioReader::open.
Expected<AudioInfo> probeAudio(const std::filesystem::path& file);

/// One channel of an audio file, opened read-only (WAV, BWF, RF64, BW64, FLAC, AIFF). Samples are floats, full
/// scale ±1; integer formats up to 24 bits arrive exactly, unless another rate is asked for. One thread at a time.
class AudioReader {
public:
    /// At the file's own rate, or converted to `rate`. Errors: notFound, empty, unreadable (also a channel that the
    /// file does not have, a length that is not known or beyond limits::frames, a rate beyond limits), truncated;
    /// each sentence names the file.
    static Expected<AudioReader> open(const SourceFile& source, std::optional<SampleRate> rate = std::nullopt);

    /// The one moved from serves nothing any more.
    AudioReader(AudioReader&&) noexcept;
    /// As when it is made of another.
    AudioReader& operator=(AudioReader&&) noexcept;
    ~AudioReader();

    /// Of the file as it is, before any change of rate.
    const AudioInfo& info() const { return info_; }
    /// The file that is read.
    const std::filesystem::path& file() const { return source_.file; }

    /// Fills `into` with frames from `at` on; what lies before the first or behind the last frame is silence.
    /// Errors: truncated (the file ends before its header says), notANumber (NaN or infinite samples).
    Expected<void> read(SourceFrame at, std::span<float> into);

private:
    struct Handle;
    AudioReader(std::unique_ptr<Handle> handle, AudioInfo info, SourceFile source);

    std::unique_ptr<Handle> handle_;
    AudioInfo info_;
    SourceFile source_;
};

/// Reads a floating point file from end to end and reports the first NaN or infinite sample (notANumber), or a file
/// that breaks off (truncated). Integer files only have their last frames read: they cannot hold a NaN.
Expected<void> checkSamples(AudioReader& reader);

} // namespace lampo
