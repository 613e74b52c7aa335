#include "audio/audio_reader.h"

#include "audio/wav_check.h"
#include "base/text.h"

#include <sndfile.h>

#include <algorithm>
#include <cmath>
#include <vector>

namespace lampo {

struct AudioReader::Handle {
    SNDFILE* file = nullptr;
    explicit Handle(SNDFILE* opened) : file(opened) {}
    Handle(const Handle&) = delete;
    Handle& operator=(const Handle&) = delete;
    ~Handle() { sf_close(file); }

    /// Integers are fetched as they are and scaled here: several times as fast as the library's own conversion.
    sf_count_t read(std::span<float> into, bool floatingPoint) {
        const auto wanted = static_cast<sf_count_t>(into.size());
        if (floatingPoint)
            return sf_readf_float(file, into.data(), wanted);
        integers.resize(std::max(integers.size(), into.size()));
        const sf_count_t done = sf_readf_int(file, integers.data(), wanted);
        for (std::size_t i = 0; i < into.size(); ++i) // left-justified in 32 bits
            into[i] = static_cast<float>(integers[i]) * 0x1.0p-31F;
        return done;
    }

    std::vector<int> integers;
};

AudioReader::AudioReader(std::unique_ptr<Handle> handle, AudioInfo info, std::filesystem::path file)
    : handle_(std::move(handle)), info_(info), file_(std::move(file)) {}
AudioReader::AudioReader(AudioReader&&) noexcept = default;
AudioReader& AudioReader::operator=(AudioReader&&) noexcept = default;
AudioReader::~AudioReader() = default;

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

} // namespace

Expected<AudioReader> AudioReader::open(const std::filesystem::path& file) {
    std::error_code code;
    if (!std::filesystem::is_regular_file(file, code))
        return fail(ErrorKind::notFound,
                    quotedName(file) + " is not there (looked in \"" + file.parent_path().string() + "\")");
    if (std::filesystem::file_size(file, code) == 0)
        return fail(ErrorKind::empty, quotedName(file) + " is empty: leave it out of the folder, or copy it again");

    SF_INFO raw{};
    auto handle = std::make_unique<Handle>(sf_open(file.c_str(), SFM_READ, &raw));
    if (!handle->file)
        return fail(ErrorKind::unreadable,
                    quotedName(file) + " could not be read as audio: " + sf_strerror(nullptr));
    if (raw.channels != 1)
        return fail(ErrorKind::notMono, quotedName(file) + " has " + std::to_string(raw.channels) +
                                            " channels: Lampo wants one mic per file, so split it into mono files");
    if (wavIsTruncated(file))
        return tl::unexpected(brokenOff(file));
    if (raw.frames <= 0)
        return fail(ErrorKind::empty, quotedName(file) + " holds no sound: leave it out of the folder");

    const AudioInfo info{raw.channels, {raw.samplerate}, {raw.frames}, isFloatingPoint(raw.format)};
    return AudioReader(std::move(handle), info, file);
}

Expected<void> AudioReader::read(SourceFrame at, std::span<float> into) {
    const auto before =
        static_cast<std::size_t>(std::clamp<std::int64_t>(-at.frame, 0, static_cast<std::int64_t>(into.size())));
    std::fill_n(into.begin(), before, 0.0F);
    into = into.subspan(before);
    at = at + FrameCount{static_cast<std::int64_t>(before)};

    const auto inside = static_cast<std::size_t>(
        std::clamp<std::int64_t>(info_.length.frames - at.frame, 0, static_cast<std::int64_t>(into.size())));
    std::fill(into.begin() + static_cast<std::ptrdiff_t>(inside), into.end(), 0.0F);
    return inside == 0 ? Expected<void>{} : readInside(at, into.first(inside));
}

Expected<void> AudioReader::readInside(SourceFrame at, std::span<float> into) {
    if (at != next_ && sf_seek(handle_->file, at.frame, SEEK_SET) < 0)
        return tl::unexpected(brokenOff(file_));
    const auto wanted = static_cast<sf_count_t>(into.size());
    if (handle_->read(into, info_.floatingPoint) != wanted) {
        next_ = {-1};
        return tl::unexpected(brokenOff(file_));
    }
    next_ = at + FrameCount{wanted};
    if (info_.floatingPoint) {
        const auto bad = std::find_if_not(into.begin(), into.end(), [](float x) { return std::isfinite(x); });
        if (bad != into.end()) {
            const auto seconds = toSeconds({at.frame + (bad - into.begin())}, info_.rate).value;
            return fail(ErrorKind::notANumber,
                        quotedName(file_) + " holds samples that are not numbers, the first at " +
                            trimmedNumber(seconds) + " s: export it again, or leave it out of the folder");
        }
    }
    return {};
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
