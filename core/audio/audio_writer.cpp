#include "audio/audio_writer.h"

#include "audio/audio_reader.h"

#include <sndfile.h>
#include <fmt/core.h>

#include <algorithm>
#include <cerrno>
#include <cmath>
#include <sys/stat.h>
#include <unistd.h>

namespace lampo {

/// The library writes through these, since it does not tell of a header that it could not complete.
struct AudioWriter::Handle {
    int descriptor;
    SNDFILE* file = nullptr;
    bool failed = false;

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
    static sf_count_t write(const void* from, sf_count_t count, void* self) {
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

int libraryFormat(SampleFormat format) {
    switch (format) {
    case SampleFormat::wav16:
        return SF_FORMAT_WAV | SF_FORMAT_PCM_16;
    case SampleFormat::wav24:
        return SF_FORMAT_WAV | SF_FORMAT_PCM_24;
    case SampleFormat::wav32f:
        return SF_FORMAT_WAV | SF_FORMAT_FLOAT;
    case SampleFormat::flac16:
        return SF_FORMAT_FLAC | SF_FORMAT_PCM_16;
    case SampleFormat::flac24:
        return SF_FORMAT_FLAC | SF_FORMAT_PCM_24;
    }
    return 0;
}

// To the nearest, ties to even. GCC makes packed instructions of its own word for it, of std::lrint none.
int nearest(float value) {
#if __has_builtin(__builtin_irintf)
    return __builtin_irintf(value);
#else
    return static_cast<int>(std::lrint(value));
#endif
}

// The library takes integers left-justified in 32 bits.
void toLeftJustified(std::span<const float> samples, int bits, std::vector<int>& integers) {
    const float scale = std::ldexp(1.0F, bits - 1);
    const int shift = 32 - bits;
    integers.resize(samples.size());
    std::transform(samples.begin(), samples.end(), integers.begin(), [=](float sample) {
        const float limited = std::clamp(sample * scale, -scale, scale - 1.0F);
        return static_cast<int>(static_cast<unsigned>(nearest(limited)) << shift);
    });
}

} // namespace

AudioWriter::AudioWriter(ProvisionalFile file, std::unique_ptr<Handle> handle, SampleFormat format)
    : file_(std::move(file)), handle_(std::move(handle)), format_(format) {}
AudioWriter::AudioWriter(AudioWriter&&) noexcept = default;
AudioWriter& AudioWriter::operator=(AudioWriter&&) noexcept = default;
AudioWriter::~AudioWriter() = default;

Expected<AudioWriter> AudioWriter::create(const std::filesystem::path& file, SampleFormat format, SampleRate rate) {
    auto part = ProvisionalFile::beside(file);
    if (!part)
        return tl::unexpected(part.error());
    SF_INFO info{};
    info.samplerate = rate.hz;
    info.channels = 1;
    info.format = libraryFormat(format);
    auto handle = std::make_unique<Handle>(part->descriptor(), info);
    if (!handle->file || handle->failed)
        return fail(ErrorKind::unwritable, fmt::format("{} could not be created in \"{}\": choose another folder",
                                                       quotedName(file), file.parent_path().string()));
    // The peak chunk carries the time of day: without it, equal prints are equal files.
    sf_command(handle->file, SFC_SET_ADD_PEAK_CHUNK, nullptr, SF_FALSE);
    return AudioWriter(std::move(*part), std::move(handle), format);
}

Error AudioWriter::full() const {
    return {ErrorKind::diskFull, quotedName(file_.wanted()) +
                                     " could not be written to the end: the disk is full or does not take "
                                     "files of that size; nothing was left behind"};
}

Expected<void> AudioWriter::write(std::span<const float> samples) {
    const auto count = static_cast<sf_count_t>(samples.size());
    sf_count_t done = 0;
    if (const int bits = integerBits(format_); bits > 0) {
        toLeftJustified(samples, bits, integers_);
        done = sf_writef_int(handle_->file, integers_.data(), count);
    } else {
        done = sf_writef_float(handle_->file, samples.data(), count);
    }
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
