#include "mix/companion_sound.h"

#include <algorithm>
#include <limits>

namespace lampo {
namespace {

constexpr Milliseconds borderFade{5}; ///< where bars were inserted, repeated or deleted

} // namespace

Expected<CompanionSound> CompanionSound::open(const Session& session, const Companion& companion) {
    return AudioReader::open(companion.file, session.rate).map([&](AudioReader reader) {
        return CompanionSound(session.rate, session.form, std::make_unique<WindowReader>(std::move(reader)));
    });
}

Expected<void> CompanionSound::add(ResultFrame at, std::span<float> sound) {
    constexpr SongFrame always{std::numeric_limits<std::int64_t>::max()};
    for (std::size_t part = 0; part < form_.size(); ++part) {
        if (!form_[part].moved)
            continue;
        const SongFrame end = part + 1 < form_.size() ? form_[part + 1].begin : always;
        if (auto added = addPart(*form_[part].moved, {form_[part].begin, end}, asSong(at), sound); !added)
            return added;
    }
    return {};
}

Expected<void> CompanionSound::addPart(FrameCount moved, Range<SongFrame> within, SongFrame begin,
                                       std::span<float> sound) {
    const auto sounds = within.intersected({begin, begin + FrameCount{std::ssize(sound)}});
    if (sounds.empty())
        return {};
    const auto count = static_cast<std::size_t>(sounds.length().frames);
    const auto read = reader_->frames(sounds.begin - SourceToSong{moved}, count);
    if (!read)
        return tl::unexpected(read.error());
    const auto fade = static_cast<float>(toFrames(borderFade, rate_).frames);
    const bool fadesIn = within.begin.frame > 0;
    const auto first = static_cast<std::size_t>((sounds.begin - begin).frames);
    for (std::size_t i = 0; i < count; ++i) {
        const SongFrame now = sounds.begin + FrameCount{static_cast<std::int64_t>(i)};
        const float in = fadesIn ? static_cast<float>((now - within.begin).frames) / fade : 1;
        const float out = static_cast<float>((within.end - now).frames) / fade;
        sound[first + i] += std::clamp(std::min(in, out), 0.0F, 1.0F) * (*read)[i];
    }
    return {};
}

} // namespace lampo
