#pragma once

#include "audio/sample_format.h"
#include "base/error.h"
#include "base/units.h"

#include <filesystem>
#include <memory>
#include <span>
#include <vector>

namespace lampo {

/// Writes one mono file under a provisional name ("snare.wav.part"); only commit() gives it its final name, so a
/// half-written file never bears it. Destroyed without commit(), it removes what it wrote. One thread at a time.
///
/// Integer formats: x · 2^(bits−1), rounded to nearest and limited to full scale, so that what was read from a file
/// of the same or fewer bits is written back bit for bit (no dither, for that reason).
class AudioWriter {
public:
    /// Errors: unwritable.
    static Expected<AudioWriter> create(const std::filesystem::path& file, SampleFormat format, SampleRate rate);

    AudioWriter(AudioWriter&&) noexcept;
    AudioWriter& operator=(AudioWriter&&) noexcept;
    ~AudioWriter();

    /// Errors: diskFull.
    Expected<void> write(std::span<const float> samples);
    /// Completes the provisional file. Errors: diskFull.
    Expected<void> close();
    /// Gives a closed file its final name, replacing what bore it. Errors: unwritable.
    Expected<void> commit();

private:
    struct Handle;
    AudioWriter(std::unique_ptr<Handle> handle, std::filesystem::path file, SampleFormat format);

    Error full() const;

    std::unique_ptr<Handle> handle_;
    std::filesystem::path file_;
    std::filesystem::path part_;
    SampleFormat format_;
    std::int64_t written_ = 0;
    std::vector<int> integers_;
};

} // namespace lampo
