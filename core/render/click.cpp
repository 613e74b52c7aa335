#include "render/click.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace lampo {
namespace {

constexpr Milliseconds clickLength{30};

struct Ping {
    double hertz;
    double loud; ///< amplitude
};

Ping pingOf(const GridLine& line, bool onBeat, const ClickSettings& settings) {
    if (!onBeat)
        return {932, 0.12};
    return line.weight == LineWeight::bar && settings.accent ? Ping{1660, 0.25} : Ping{1245, 0.25};
}

void addPing(const Ping& ping, std::int64_t from, SampleRate rate, std::span<float> sound) {
    const std::int64_t length = toFrames(clickLength, rate).frames;
    const auto count = static_cast<std::int64_t>(sound.size());
    for (std::int64_t i = std::max<std::int64_t>(0, from); i < std::min(count, from + length); ++i) {
        const double time = static_cast<double>(i - from) / rate.hz;
        sound[static_cast<std::size_t>(i)] += static_cast<float>(
            ping.loud * std::exp(-time / 0.006) * std::sin(2 * std::numbers::pi * ping.hertz * time));
    }
}

} // namespace

void addClick(const MusicalMap& map, const ClickSettings& settings, ResultFrame at, std::span<float> sound) {
    const FrameCount length = toFrames(clickLength, map.rate());
    const Range<SongFrame> range{asSong(at) - length,
                                 asSong(at) + FrameCount{static_cast<std::int64_t>(sound.size())}};
    const auto beats = gridLines(map, range, [&](int bar, int) { return NoteValue{1, map.meterOf(bar).unit}; });
    for (const GridLine& beat : beats)
        addPing(pingOf(beat, true, settings), beat.frame.frame - at.frame, map.rate(), sound);
    if (!settings.subdivision)
        return;
    for (const GridLine& line : gridLines(map, range, [&](int, int) { return *settings.subdivision; }))
        if (std::none_of(beats.begin(), beats.end(), [&](const GridLine& b) { return b.frame == line.frame; }))
            addPing(pingOf(line, false, settings), line.frame.frame - at.frame, map.rate(), sound);
}

} // namespace lampo
