#pragma once

#include "audio/file_notes.h"
#include "audio/sample_format.h"
#include "base/error.h"
#include "base/provisional_file.h"
#include "base/units.h"

#include <filesystem>
#include <memory>
#include <span>
#include <vector>

namespace lampo {

/// What a file of sound is to be.
struct SoundFile {
    SampleFormat format;     ///< of its samples
    SampleRate rate;         ///< of its frames
    int channels = 1;        ///< FLAC: at most 8
    std::int64_t frames = 0; ///< that will be written, where that is known: a WAV beyond 4 GB is written as RF64
    Dither dither = Dither::none; ///< of what whole numbers cannot hold
    std::uint64_t seed = 0;       ///< of its dither: files that are heard together want one each
    FileNotes notes{};            ///< where the container holds them
};

/// What a file without compression takes, in bytes, but for its header.
std::int64_t bytesOf(const SoundFile& sound);

/// Writes one file under a provisional name; only commit() gives it its final name, so a half-written file
/// never bears it. Destroyed without commit(), it removes what it wrote. One thread at a time.
///
/// Whole numbers: audio/quantizer.h, so that what was read from a file of the same or fewer bits is written back
/// bit for bit. Blocks of a WAV or AIFF that are silent throughout take no place on the disk.
class AudioWriter {
public:
    /// Errors: unwritable; badValue (the container does not hold so many channels, or so much).
    static Expected<AudioWriter> create(const std::filesystem::path& file, const SoundFile& sound);
    /// One channel, rounded, without notes.
    static Expected<AudioWriter> create(const std::filesystem::path& file, SampleFormat format, SampleRate rate);

    /// The one moved from writes nothing any more.
    AudioWriter(AudioWriter&&) noexcept;
    /// As when it is made of another.
    AudioWriter& operator=(AudioWriter&&) noexcept;
    ~AudioWriter();

    /// Frames of all channels, interleaved. Errors: diskFull.
    Expected<void> write(std::span<const float> samples);
    /// Completes and syncs the provisional file. Errors: diskFull.
    Expected<void> close();
    /// Gives a closed file its final name, replacing what bore it. Errors: unwritable.
    Expected<void> commit();
    /// Where it is now.
    const std::filesystem::path& path() const { return file_.path(); }
    /// The name that it will have.
    const std::filesystem::path& wanted() const { return file_.wanted(); }
    /// A closed file, to be named together with others.
    ProvisionalFile take() &&;

private:
    struct Handle;
    AudioWriter(ProvisionalFile file, std::unique_ptr<Handle> handle, const SoundFile& sound);

    Error full() const;

    ProvisionalFile file_;
    std::unique_ptr<Handle> handle_; ///< goes before the file
    int channels_ = 1;
    std::int64_t written_ = 0; ///< frames
};

} // namespace lampo
