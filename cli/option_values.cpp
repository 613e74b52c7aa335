#include "option_values.h"

#include "base/limits.h"
#include "base/text.h"

#include <charconv>
#include <cmath>

namespace lampo::cli {

std::optional<double> numberIn(std::string_view text) {
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc{} && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

namespace {

std::optional<int> wholeIn(std::string_view text) {
    int value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    return error == std::errc{} && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

} // namespace

std::optional<SongFrame> timeIn(std::string_view text, SampleRate rate) {
    const auto before = [&](std::string_view unit) -> std::optional<double> {
        return text.ends_with(unit) ? numberIn(text.substr(0, text.size() - unit.size())) : std::nullopt;
    };
    std::optional<double> frames = before("smp");
    if (const auto ms = before("ms"); !frames && ms)
        frames = *ms / 1000 * rate.hz;
    if (const auto seconds = before("s"); !frames && seconds)
        frames = *seconds * rate.hz;
    const bool fits = frames && std::abs(*frames) <= static_cast<double>(limits::frames); // not so for NaN
    return fits ? std::optional(SongFrame{std::llround(*frames)}) : std::nullopt;
}

std::optional<Meter> meterIn(const std::string& text) {
    const auto parts = split(text, '/');
    if (parts.size() != 2)
        return std::nullopt;
    const auto beats = wholeIn(parts[0]);
    const auto unit = wholeIn(parts[1]);
    return beats && unit ? std::optional(Meter{*beats, *unit}) : std::nullopt;
}

std::optional<Voice> voiceIn(const std::string& text) {
    for (std::size_t voice = 0; voice < voiceCount; ++voice)
        if (name(static_cast<Voice>(voice)) == text)
            return static_cast<Voice>(voice);
    return std::nullopt;
}

} // namespace lampo::cli
