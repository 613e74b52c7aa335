#include "audio/audio_reader.h"

#include "audio/rate_converter.h"
#include "audio/wav_check.h"
#include "base/text.h"

#include <sndfile.h>

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

} // namespace

/// The open file, at its own rate.
struct AudioReader::Handle {
    SNDFILE* file = nullptr;
    SF_INFO raw{};
    int channel = 0;
    std::filesystem::path path;
    sf_count_t next = 0;
    std::optional<RateConverter> converter;
    std::vector<int> integers;
    std::vector<float> interleaved;

    explicit Handle(std::filesystem::path opened) : path(std::move(opened)) {
        file = sf_open(path.c_str(), SFM_READ, &raw);
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
        const auto seconds = toSeconds({at + (bad - samples.begin())}, {raw.samplerate}).value;
        return fail(ErrorKind::notANumber, quotedName(path) + " holds samples that are not numbers, the first at " +
                                               trimmedNumber(seconds) +
                                               " s: export it again, or leave it out of the folder");
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
    std::error_code code;
    if (!std::filesystem::is_regular_file(file, code))
        return fail(ErrorKind::notFound,
                    quotedName(file) + " is not there (looked in \"" + file.parent_path().string() + "\")");
    if (std::filesystem::file_size(file, code) == 0)
        return fail(ErrorKind::empty, quotedName(file) + " is empty: leave it out of the folder, or copy it again");

    auto handle = std::make_unique<Handle>(file);
    const SF_INFO& raw = handle->raw;
    if (!handle->file)
        return fail(ErrorKind::unreadable,
                    quotedName(file) + " could not be read as audio: " + sf_strerror(nullptr));
    if (wavIsTruncated(file))
        return tl::unexpected(brokenOff(file));
    if (raw.frames <= 0)
        return fail(ErrorKind::empty, quotedName(file) + " holds no sound: leave it out of the folder");
    if (source.channel >= raw.channels)
        return fail(ErrorKind::unreadable, quotedName(file) + " has " + std::to_string(raw.channels) +
                                               " channels, but channel " + std::to_string(source.channel + 1) +
                                               " is wanted: put the original file back");
    handle->channel = source.channel;
    AudioInfo info{raw.channels, {raw.samplerate}, {raw.frames}, isFloatingPoint(raw.format)};
    if (rate && *rate != info.rate) {
        handle->converter.emplace(info.rate, *rate);
        info.length = handle->converter->converted(info.length);
        info.rate = *rate;
    }
    info.length = info.length + source.offset;
    return AudioReader(std::move(handle), info, source);
}

Expected<void> AudioReader::read(SourceFrame at, std::span<float> into) {
    std::int64_t frame = (at - source_.offset).frame;
    if (!handle_->converter)
        return handle_->read(frame, into);
    into = silenceOutside(frame, (info_.length - source_.offset).frames, into);
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
        if (auto read = reader.read({at}, std::span(buffer).first(count)); !read)
            return read;
    }
    return {};
}

} // namespace lampo
