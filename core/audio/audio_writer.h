#pragma once

#include "audio/sample_format.h"
#include "base/error.h"
#include "base/provisional_file.h"
#include "base/units.h"

#include <filesystem>
#include <memory>
#include <span>
#include <vector>

namespace lampo {

/// Writes one mono file under a provisional name; only commit() gives it its final name, so a half-written file
/// never bears it. Destroyed without commit(), it removes what it wrote. One thread at a time.
///
/// Integer formats: x · 2^(bits−1), rounded to nearest and limited to full scale, so that what was read from a file
/// of the same or fewer bits is written back bit for bit (no dither, for that reason).
class AudioWriter {
public:
    /// Errors: unwritable.
    static Expected<AudioWriter> create(const std::filesystem::path& file, SampleFormat format, SampleRate rate);

    /// The one moved from writes nothing any more.
    AudioWriter(AudioWriter&&) noexcept;
    /// As when it is made of another.
    AudioWriter& operator=(AudioWriter&&) noexcept;
    ~AudioWriter();

    /// Errors: diskFull.
    Expected<void> write(std::span<const float> samples);
    /// Completes and syncs the provisional file. Errors: diskFull.
    Expected<void> close();
    /// Gives a closed file its final name, replacing what bore it. Errors: unwritable.
    Expected<void> commit();
    /// A closed file, to be named together with others.
    ProvisionalFile take() &&;

private:
    struct Handle;
    AudioWriter(ProvisionalFile file, std::unique_ptr<Handle> handle, SampleFormat format);

    Error full() const;

    ProvisionalFile file_;
    std::unique_ptr<Handle> handle_; ///< goes before the file
    SampleFormat format_;
    std::int64_t written_ = 0;
    std::vector<int> integers_;
};

} // namespace lampo
