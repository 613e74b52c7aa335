#include "audio/audio_writer.h"

#include "audio/audio_reader.h"

#include <sndfile.h>

#include <algorithm>
#include <cmath>

namespace lampo {

struct AudioWriter::Handle {
    SNDFILE* file = nullptr;
    explicit Handle(SNDFILE* opened) : file(opened) {}
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    ~Handle() {
        if (file)
            sf_close(file);
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

AudioWriter::AudioWriter(std::unique_ptr<Handle> handle, std::filesystem::path file, SampleFormat format)
    : handle_(std::move(handle)), file_(std::move(file)), part_(file_.string() + ".part"), format_(format) {}
AudioWriter::AudioWriter(AudioWriter&&) noexcept = default;
AudioWriter& AudioWriter::operator=(AudioWriter&&) noexcept = default;

AudioWriter::~AudioWriter() {
    if (!handle_)
        return;
    handle_.reset();
    std::error_code ignored;
    std::filesystem::remove(part_, ignored);
}

Expected<AudioWriter> AudioWriter::create(const std::filesystem::path& file, SampleFormat format, SampleRate rate) {
    SF_INFO info{};
    info.samplerate = rate.hz;
    info.channels = 1;
    info.format = libraryFormat(format);
    const auto part = file.string() + ".part";
    auto handle = std::make_unique<Handle>(sf_open(part.c_str(), SFM_WRITE, &info));
    if (!handle->file)
        return fail(ErrorKind::unwritable, quotedName(file) + " could not be created in \"" +
                                               file.parent_path().string() + "\": choose another folder");
    // The peak chunk carries the time of day: without it, equal prints are equal files.
    sf_command(handle->file, SFC_SET_ADD_PEAK_CHUNK, nullptr, SF_FALSE);
    return AudioWriter(std::move(handle), file, format);
}

Error AudioWriter::full() const {
    return {ErrorKind::diskFull, quotedName(file_) +
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
    if (done != count)
        return tl::unexpected(full());
    return {};
}

Expected<void> AudioWriter::close() {
    SNDFILE* const file = std::exchange(handle_->file, nullptr);
    // A header that no longer fitted shows only on reading back.
    if (sf_close(file) != 0)
        return tl::unexpected(full());
    const auto back = AudioReader::open(part_);
    if (written_ > 0 && (!back || back->info().length.frames != written_))
        return tl::unexpected(full());
    return {};
}

Expected<void> AudioWriter::commit() {
    std::error_code code;
    std::filesystem::rename(part_, file_, code);
    if (code)
        return fail(ErrorKind::unwritable, quotedName(file_) + " could not be given its name: " + code.message());
    handle_.reset();
    return {};
}

} // namespace lampo
