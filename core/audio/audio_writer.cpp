#include "audio/audio_writer.h"

#include "audio/audio_reader.h"
#include "audio/quantizer.h"

#include <sndfile.h>
#include <fmt/core.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <optional>
#include <sys/stat.h>
#include <unistd.h>

namespace lampo {

/// The library writes through these, since it does not tell of a header that it could not complete.
struct AudioWriter::Handle {
    int descriptor;
    SNDFILE* file = nullptr;
    bool failed = false;
    bool skipsSilence = false;          ///< blocks of zeros at the file's end are skipped, not written
    std::optional<Quantizer> quantizer; ///< none: floating point

    Handle(int opened, SF_INFO info) : descriptor(opened) {
        SF_VIRTUAL_IO io{length, seek, read, write, tell};
        file = sf_open_virtual(&io, SFM_WRITE, &info, this);
    }
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    ~Handle() {
        if (file)
            sf_close(file);
    }

private:
    static Handle& of(void* self) { return *static_cast<Handle*>(self); }
    static sf_count_t length(void* self) {
        struct stat state {};
        return ::fstat(of(self).descriptor, &state) == 0 ? state.st_size : -1;
    }
    static sf_count_t seek(sf_count_t to, int from, void* self) { return ::lseek(of(self).descriptor, to, from); }
    static sf_count_t tell(void* self) { return ::lseek(of(self).descriptor, 0, SEEK_CUR); }
    static sf_count_t read(void* to, sf_count_t count, void* self) {
        return std::max<ssize_t>(0, ::read(of(self).descriptor, to, static_cast<std::size_t>(count)));
    }
    /// Moves on over zeros behind the file's end, so that they are there without being on the disk.
    bool skipped(const char* from, sf_count_t count) {
        constexpr sf_count_t worthwhile = 4096;
        if (!skipsSilence || count < worthwhile || std::any_of(from, from + count, [](char c) { return c != 0; }))
            return false;
        const off_t at = ::lseek(descriptor, 0, SEEK_CUR);
        return at == length(this) && ::ftruncate(descriptor, at + count) == 0 &&
               ::lseek(descriptor, count, SEEK_CUR) >= 0;
    }
    static sf_count_t write(const void* from, sf_count_t count, void* self) {
        if (of(self).skipped(static_cast<const char*>(from), count))
            return count;
        sf_count_t done = 0;
        while (done < count) {
            const ssize_t some = ::write(of(self).descriptor, static_cast<const char*>(from) + done,
                                         static_cast<std::size_t>(count - done));
            if (some < 0 && errno == EINTR)
                continue;
            if (some <= 0) {
                of(self).failed = true;
                break;
            }
            done += some;
        }
        return done;
    }
};

namespace {

constexpr std::int64_t headerRoom = 1 << 16;                               ///< bytes, with all notes
constexpr std::int64_t longestRiff = (std::int64_t{1} << 32) - headerRoom; ///< what 32 bits count

int libraryFormat(const SoundFile& sound) {
    int format = 0;
    switch (sound.format.container) {
    case Container::wav:
    case Container::bwf:
        format = bytesOf(sound) > longestRiff ? SF_FORMAT_RF64 : SF_FORMAT_WAV;
        break;
    case Container::aiff:
        format = SF_FORMAT_AIFF;
        break;
    case Container::flac:
        format = SF_FORMAT_FLAC;
        break;
    }
    switch (sound.format.encoding) {
    case Encoding::int16:
        return format | SF_FORMAT_PCM_16;
    case Encoding::int24:
        return format | SF_FORMAT_PCM_24;
    case Encoding::float32:
        break;
    }
    return format | SF_FORMAT_FLOAT;
}

Expected<void> checkHeld(const std::filesystem::path& file, const SoundFile& sound) {
    constexpr int mostInFlac = 8;
    if (sound.format.container == Container::flac && sound.channels > mostInFlac)
        return fail(ErrorKind::badValue, fmt::format("{} would have {} channels, and FLAC holds {}: choose WAV",
                                                     quotedName(file), sound.channels, mostInFlac));
    if (sound.format == SampleFormat{Container::flac, Encoding::float32})
        return fail(
            ErrorKind::badValue,
            fmt::format("{}: FLAC holds no floating point; choose 16 or 24 bits, or WAV", quotedName(file)));
    if (sound.format.container == Container::aiff && bytesOf(sound) > longestRiff)
        return fail(ErrorKind::badValue,
                    fmt::format("{} would be longer than the 4 GB that AIFF holds: choose WAV", quotedName(file)));
    return {};
}

bool setChunk(SNDFILE* file, const char* id, std::string payload) {
    SF_CHUNK_INFO chunk{};
    std::strncpy(chunk.id, id, sizeof chunk.id - 1);
    chunk.id_size = 4;
    chunk.datalen = static_cast<unsigned>(payload.size());
    chunk.data = payload.data();
    return sf_set_chunk(file, &chunk) == SF_ERR_NO_ERROR;
}

/// Before the first sample is written. What the container does not hold is left out.
bool setNotes(SNDFILE* file, const SoundFile& sound) {
    const FileNotes& notes = sound.notes;
    bool set = true;
    if (sound.format.container == Container::bwf && notes.broadcast)
        set = setChunk(file, "bext", bextChunk(*notes.broadcast));
    if (notes.cues.empty() || sound.format.container == Container::flac)
        return set;
    if (sound.format.container == Container::aiff)
        return setChunk(file, "MARK", markChunk(notes.cues)) && set;
    return setChunk(file, "cue ", cueChunk(notes.cues)) && setChunk(file, "LIST", labelChunk(notes.cues)) && set;
}

} // namespace

std::int64_t bytesOf(const SoundFile& sound) {
    return sound.frames * sound.channels * bytesOf(sound.format);
}

AudioWriter::AudioWriter(ProvisionalFile file, std::unique_ptr<Handle> handle, const SoundFile& sound)
    : file_(std::move(file)), handle_(std::move(handle)), channels_(sound.channels) {}
AudioWriter::AudioWriter(AudioWriter&&) noexcept = default;
AudioWriter& AudioWriter::operator=(AudioWriter&&) noexcept = default;
AudioWriter::~AudioWriter() = default;

Expected<AudioWriter> AudioWriter::create(const std::filesystem::path& file, SampleFormat format, SampleRate rate) {
    return create(file, SoundFile{format, rate});
}

Expected<AudioWriter> AudioWriter::create(const std::filesystem::path& file, const SoundFile& sound) {
    if (auto held = checkHeld(file, sound); !held)
        return tl::unexpected(held.error());
    auto part = ProvisionalFile::beside(file);
    if (!part)
        return tl::unexpected(part.error());
    SF_INFO info{};
    info.samplerate = sound.rate.hz;
    info.channels = sound.channels;
    info.format = libraryFormat(sound);
    auto handle = std::make_unique<Handle>(part->descriptor(), info);
    if (!handle->file || handle->failed || !setNotes(handle->file, sound))
        return fail(ErrorKind::unwritable, fmt::format("{} could not be created in \"{}\": choose another folder",
                                                       quotedName(file), file.parent_path().string()));
    // The peak chunk carries the time of day: without it, equal prints are equal files.
    sf_command(handle->file, SFC_SET_ADD_PEAK_CHUNK, nullptr, SF_FALSE);
    handle->skipsSilence = sound.format.container != Container::flac;
    if (const int bits = integerBits(sound.format); bits > 0)
        handle->quantizer.emplace(bits, sound.dither, sound.seed);
    return AudioWriter(std::move(*part), std::move(handle), sound);
}

Error AudioWriter::full() const {
    return {ErrorKind::diskFull, quotedName(file_.wanted()) +
                                     " could not be written to the end: the disk is full or does not take "
                                     "files of that size; nothing was left behind"};
}

Expected<void> AudioWriter::write(std::span<const float> samples) {
    const auto count = static_cast<sf_count_t>(samples.size()) / channels_;
    const sf_count_t done = handle_->quantizer
                                ? sf_writef_int(handle_->file, handle_->quantizer->next(samples).data(), count)
                                : sf_writef_float(handle_->file, samples.data(), count);
    written_ += done;
    if (done != count || handle_->failed)
        return tl::unexpected(full());
    return {};
}

Expected<void> AudioWriter::close() {
    SNDFILE* const file = std::exchange(handle_->file, nullptr);
    if (sf_close(file) != 0 || handle_->failed)
        return tl::unexpected(full());
    const auto back = AudioReader::open(file_.path());
    if (written_ > 0 && (!back || back->info().length.frames != written_))
        return tl::unexpected(full());
    return file_.sync();
}

Expected<void> AudioWriter::commit() {
    return file_.commit();
}

ProvisionalFile AudioWriter::take() && {
    return std::move(file_);
}

} // namespace lampo
