#include "audio/audio_reader.h"

#include "audio/rate_converter.h"
#include "audio/wav_header.h"
#include "base/limits.h"
#include "base/text.h"

#include <sndfile.h>
#include <fmt/core.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace lampo {
namespace {

bool isFloatingPoint(int format) {
    const int sub = format & SF_FORMAT_SUBMASK;
    return sub == SF_FORMAT_FLOAT || sub == SF_FORMAT_DOUBLE;
}

Error brokenOff(const std::filesystem::path& file) {
    return {ErrorKind::truncated, quotedName(file) +
                                      " breaks off before its header says it ends: copy it again from "
                                      "the recorder, or leave it out of the folder"};
}

/// Of what can be worked with; a length that is not known reads as an endless one.
Expected<void> withinLimits(const SF_INFO& raw, const std::filesystem::path& file) {
    if (raw.frames <= 0)
        return fail(ErrorKind::empty, quotedName(file) + " holds no sound: leave it out of the folder");
    if (raw.frames > limits::frames)
        return fail(ErrorKind::unreadable, quotedName(file) +
                                               " does not say how long it is, or lasts longer than can be worked "
                                               "with: write it anew as a WAV file, or in parts");
    if (raw.samplerate < limits::lowestRate || raw.samplerate > limits::highestRate)
        return fail(ErrorKind::unreadable,
                    fmt::format("{} says that it has a sample rate of {} Hz, which can be from {} to {} Hz: bring "
                                "it to another rate first",
                                quotedName(file), raw.samplerate, limits::lowestRate, limits::highestRate));
    return {};
}

/// The part of a request [at, at + into.size()) that lies inside [0, length); the rest is filled with silence.
std::span<float> silenceOutside(std::int64_t& at, std::int64_t length, std::span<float> into) {
    const auto size = static_cast<std::int64_t>(into.size());
    const auto before = static_cast<std::size_t>(std::clamp<std::int64_t>(-at, 0, size));
    std::fill_n(into.begin(), before, 0.0F);
    into = into.subspan(before);
    at += static_cast<std::int64_t>(before);
    const auto inside =
        static_cast<std::size_t>(std::clamp<std::int64_t>(length - at, 0, static_cast<std::int64_t>(into.size())));
    std::fill(into.begin() + static_cast<std::ptrdiff_t>(inside), into.end(), 0.0F);
    return into.first(inside);
}

/// Lets the decoder read from FileBytes, which it is given as `user`.
struct DecoderInput {
    FileBytes bytes;
    sf_count_t at = 0;

    static DecoderInput& of(void* user) { return *static_cast<DecoderInput*>(user); }
    static sf_count_t length(void* user) { return of(user).bytes.size(); }
    static sf_count_t tell(void* user) { return of(user).at; }
    static sf_count_t write(const void*, sf_count_t, void*) { return 0; }
    static sf_count_t seek(sf_count_t offset, int whence, void* user) {
        DecoderInput& input = of(user);
        input.at = offset + (whence == SEEK_SET ? 0 : whence == SEEK_CUR ? input.at : input.bytes.size());
        return input.at;
    }
    static sf_count_t read(void* into, sf_count_t count, void* user) {
        DecoderInput& input = of(user);
        const auto got = static_cast<sf_count_t>(
            input.bytes.read(input.at, std::span(static_cast<char*>(into),
                                                 static_cast<std::size_t>(std::max<sf_count_t>(count, 0)))));
        input.at += got;
        return got;
    }
};

} // namespace

/// The open file, at its own rate.
struct AudioReader::Handle {
    DecoderInput input;
    SNDFILE* file = nullptr;
    SF_INFO raw{};
    int channel = 0;
    std::filesystem::path path;
    sf_count_t next = 0;
    FrameCount length; ///< at the rate that is read, without the offset
    std::optional<RateConverter> converter;
    std::vector<int> integers;
    std::vector<float> interleaved;

    Handle(std::filesystem::path opened, FileBytes bytes) : input{std::move(bytes)}, path(std::move(opened)) {
        SF_VIRTUAL_IO calls{&DecoderInput::length, &DecoderInput::seek, &DecoderInput::read, &DecoderInput::write,
                            &DecoderInput::tell};
        file = sf_open_virtual(&calls, SFM_READ, &raw, &input);
    }
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    ~Handle() {
        if (file)
            sf_close(file);
    }

    Expected<void> read(sf_count_t at, std::span<float> into) {
        into = silenceOutside(at, raw.frames, into);
        if (into.empty())
            return {};
        if (at != next && sf_seek(file, at, SEEK_SET) < 0)
            return tl::unexpected(brokenOff(path));
        const auto wanted = static_cast<sf_count_t>(into.size());
        if (decode(into) != wanted) {
            next = -1;
            return tl::unexpected(brokenOff(path));
        }
        next = at + wanted;
        return isFloatingPoint(raw.format) ? checkNumbers(at, into) : Expected<void>{};
    }

private:
    /// Integers are fetched as they are and scaled here: several times as fast as the library's own conversion.
    sf_count_t decode(std::span<float> into) {
        const auto wanted = static_cast<sf_count_t>(into.size());
        const bool mono = raw.channels == 1;
        const std::size_t values = into.size() * static_cast<std::size_t>(raw.channels);
        if (!mono)
            interleaved.resize(std::max(interleaved.size(), values));
        const std::span<float> fetched = mono ? into : std::span(interleaved).first(values);
        sf_count_t done = 0;
        if (isFloatingPoint(raw.format)) {
            done = sf_readf_float(file, fetched.data(), wanted);
        } else {
            integers.resize(std::max(integers.size(), values));
            done = sf_readf_int(file, integers.data(), wanted);
            for (std::size_t i = 0; i < values; ++i) // left-justified in 32 bits
                fetched[i] = static_cast<float>(integers[i]) * 0x1.0p-31F;
        }
        if (!mono)
            takeChannel(fetched, into);
        return done;
    }

    void takeChannel(std::span<const float> frames, std::span<float> into) const {
        const auto channels = static_cast<std::size_t>(raw.channels);
        const bool all = channel == SourceFile::everyChannel;
        const auto first = all ? std::size_t{0} : static_cast<std::size_t>(channel);
        const auto last = all ? channels : first + 1;
        const float scale = 1.0F / static_cast<float>(last - first);
        for (std::size_t i = 0; i < into.size(); ++i) {
            float sum = 0;
            for (std::size_t c = first; c < last; ++c)
                sum += frames[i * channels + c];
            into[i] = sum * scale;
        }
    }

    Expected<void> checkNumbers(sf_count_t at, std::span<const float> samples) const {
        const auto bad = std::find_if_not(samples.begin(), samples.end(), [](float x) { return std::isfinite(x); });
        if (bad == samples.end())
            return {};
        const auto seconds = toSeconds(FrameCount{at + (bad - samples.begin())}, {raw.samplerate}).value;
        return fail(ErrorKind::notANumber, fmt::format("{} holds samples that are not numbers, the first at {} s: "
                                                       "export it again, or leave it out of the folder",
                                                       quotedName(path), trimmedNumber(seconds)));
    }
};

AudioReader::AudioReader(std::unique_ptr<Handle> handle, AudioInfo info, SourceFile source)
    : handle_(std::move(handle)), info_(info), source_(std::move(source)) {}
AudioReader::AudioReader(AudioReader&&) noexcept = default;
AudioReader& AudioReader::operator=(AudioReader&&) noexcept = default;
AudioReader::~AudioReader() = default;

Expected<AudioInfo> probeAudio(const std::filesystem::path& file) {
    return AudioReader::open(file).map([](const AudioReader& reader) { return reader.info(); });
}

Expected<AudioReader> AudioReader::open(const SourceFile& source, std::optional<SampleRate> rate) {
    const auto& file = source.file;
    auto bytes = FileBytes::open(file);
    if (!bytes)
        return tl::unexpected(bytes.error());
    const WavHeader header = readWavHeader(*bytes);
    auto handle = std::make_unique<Handle>(file, std::move(*bytes));
    const SF_INFO& raw = handle->raw;
    if (!handle->file)
        return fail(ErrorKind::unreadable,
                    fmt::format("{} could not be read as audio: {}", quotedName(file), sf_strerror(nullptr)));
    if (header.breaksOff)
        return tl::unexpected(brokenOff(file));
    if (auto fits = withinLimits(raw, file); !fits)
        return tl::unexpected(fits.error());
    if (source.channel >= raw.channels)
        return fail(ErrorKind::unreadable,
                    fmt::format("{} has {} channels, but channel {} is wanted: put the original file back",
                                quotedName(file), raw.channels, source.channel + 1));
    handle->channel = source.channel;
    AudioInfo info{raw.channels,       {raw.samplerate},    FrameCount{raw.frames}, isFloatingPoint(raw.format),
                   header.lacksLength, header.timeReference};
    if (rate && *rate != info.rate) {
        handle->converter.emplace(info.rate, *rate);
        info.length = handle->converter->converted(info.length);
        info.rate = *rate;
    }
    handle->length = info.length;
    info.length =
        std::max(FrameCount{}, info.length + source.offset); // nothing is left of what ends before the take
    return AudioReader(std::move(handle), info, source);
}

Expected<void> AudioReader::read(SourceFrame at, std::span<float> into) {
    std::int64_t frame = (at - source_.offset).frame;
    if (!handle_->converter)
        return handle_->read(frame, into);
    into = silenceOutside(frame, handle_->length.frames, into);
    return handle_->converter->read(
        frame, into, [this](std::int64_t from, std::span<float> own) { return handle_->read(from, own); });
}

Expected<void> checkSamples(AudioReader& reader) {
    constexpr std::int64_t block = 1 << 16;
    std::vector<float> buffer(block);
    const std::int64_t length = reader.info().length.frames;
    std::int64_t at = reader.info().floatingPoint ? 0 : std::max<std::int64_t>(0, length - 4096);
    for (; at < length; at += block) {
        const auto count = static_cast<std::size_t>(std::min(block, length - at));
        if (auto read = reader.read(SourceFrame{at}, std::span(buffer).first(count)); !read)
            return read;
    }
    return {};
}

} // namespace lampo
