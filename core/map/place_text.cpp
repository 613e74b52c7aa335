#include "map/place_text.h"

#include "base/text.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/core.h>
#include <vector>

namespace lampo {
namespace {

std::optional<double> numberIn(std::string_view text) {
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    const bool whole = error == std::errc{} && end == text.data() + text.size() && !text.empty();
    return whole && std::isfinite(value) ? std::optional(value) : std::nullopt;
}

std::optional<int> wholeIn(std::string_view text) {
    const auto value = numberIn(text);
    return value && *value == std::floor(*value) && std::abs(*value) < 1e6 ? std::optional(static_cast<int>(*value))
                                                                           : std::nullopt;
}

std::optional<SongFrame> plainPlace(const MusicalMap& map, std::string_view text) {
    if (text.ends_with('s')) {
        const auto seconds = numberIn(text.substr(0, text.size() - 1));
        return seconds && std::abs(*seconds) < 1e6
                   ? std::optional(SongFrame{} + toFrames(Seconds{*seconds}, map.rate()))
                   : std::nullopt;
    }
    const auto place = barBeatIn(text);
    return place && place->beat < map.meterOf(place->bar).beats + 1 ? std::optional(map.at(*place)) : std::nullopt;
}

} // namespace

std::string placeText(BarBeat place) {
    return place.beat == 1 ? fmt::format("{}", place.bar)
                           : fmt::format("{}.{}", place.bar, trimmedNumber(place.beat, 3));
}

std::optional<BarBeat> barBeatIn(std::string_view text) {
    const auto dot = text.find('.');
    const auto bar = wholeIn(text.substr(0, dot));
    if (!bar || dot == std::string_view::npos)
        return bar ? std::optional(BarBeat{*bar, 1}) : std::nullopt;
    const auto beat = numberIn(text.substr(dot + 1));
    return beat && *beat >= 1 ? std::optional(BarBeat{*bar, *beat}) : std::nullopt;
}

std::string placeText(const MusicalMap& map, SongFrame place) {
    const BarBeat at = map.barBeat(place);
    const auto thousandths = std::llround(at.beat * 1000);
    return fmt::format("{}.{}.{:03}", at.bar, thousandths / 1000, thousandths % 1000);
}

std::optional<SongFrame> placeIn(const MusicalMap& map, std::string_view text) {
    std::string plain;
    for (std::size_t i = 0; i < text.size(); ++i)
        if (text.substr(i).starts_with("\u2212")) { // a real minus sign
            plain += '-';
            i += 2;
        } else if (text[i] != ' ') {
            plain += text[i];
        }
    FrameCount more;
    if (plain.ends_with("ms")) {
        const auto sign = plain.find_last_of("+-");
        if (sign == std::string::npos || sign == 0)
            return std::nullopt;
        const auto ms = numberIn(std::string_view(plain).substr(plain[sign] == '+' ? sign + 1 : sign,
                                                                plain.size() - 2 - sign - (plain[sign] == '+')));
        if (!ms || std::abs(*ms) > 1e6)
            return std::nullopt;
        more = toFrames(Milliseconds{*ms}, map.rate());
        plain.resize(sign);
    }
    const auto place = plainPlace(map, plain);
    return place ? std::optional(*place + more) : std::nullopt;
}

} // namespace lampo
