#include "midi/tempo_map.h"

#include "base/text.h"
#include "map/map_edits.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <fmt/core.h>
#include <map>
#include <optional>
#include <string_view>
#include <tuple>

namespace lampo {
namespace {

constexpr double defaultTempo = 500000; ///< microseconds a quarter, where a file says nothing
constexpr int maxBars = 100000;

std::int64_t wholeOf(const std::string& data) {
    std::int64_t value = 0;
    for (const char byte : data)
        value = value << 8 | static_cast<std::uint8_t>(byte);
    return value;
}

/// What a file says about time, by tick; of two at one tick the later counts.
struct Said {
    std::map<std::int64_t, double> tempos; ///< microseconds a quarter
    std::map<std::int64_t, Meter> meters;
    std::map<std::int64_t, std::string> markers;
    std::int64_t named = 0; ///< here begins a bar …
    int number = 0;         ///< … of this number; 0: none is named
};

/// "bar 3".
std::optional<int> barNamed(std::string_view text) {
    constexpr std::string_view word = "bar ";
    int number = 0;
    if (!text.starts_with(word))
        return std::nullopt;
    const auto [end, error] = std::from_chars(text.data() + word.size(), text.data() + text.size(), number);
    const bool whole = error == std::errc{} && end == text.data() + text.size();
    return whole && 1 <= number && number <= maxBars ? std::optional(number) : std::nullopt;
}

Expected<Said> collect(const MidiFile& file, const std::string& named) {
    Said said;
    for (const auto& track : file.tracks)
        for (const MidiEvent& event : track) {
            if (event.isMeta(midi::tempo)) {
                if (event.data.size() != 3 || wholeOf(event.data) == 0)
                    return fail(ErrorKind::badValue, named + " holds a tempo that is none");
                said.tempos[event.tick] = static_cast<double>(wholeOf(event.data));
            } else if (event.isMeta(midi::meter)) {
                const auto meter = meterIn(event);
                if (!meter)
                    return fail(ErrorKind::badValue, named +
                                                         " holds a meter that a map cannot hold: 1 to 32 beats of "
                                                         "1, 2, 4, 8, 16 or 32");
                said.meters[event.tick] = *meter;
            } else if (event.isMeta(midi::marker) && !event.data.empty()) {
                said.markers[event.tick] = event.data;
            } else if (event.isMeta(midi::text)) {
                if (const auto number = barNamed(event.data))
                    std::tie(said.named, said.number) = std::pair(event.tick, *number);
            }
        }
    return said;
}

/// Bars from tick 0 on, the first of them bar 1.
class Reader {
public:
    Reader(const MidiFile& file, const Said& said, const std::string& named)
        : said_(said), named_(named), perWhole_(4.0 * file.ticksPerQuarter) {}

    Expected<MapData> run() {
        map_.meters.clear();
        map_.tempos.clear();
        double tick = 0;
        Meter meter = inForce(said_.meters, 0, Meter{4, 4});
        for (int bar = 1; bar == 1 || tick <= lastSaid(); ++bar) {
            if (bar > maxBars)
                return fail(ErrorKind::badValue, named_ + " has too many bars");
            meter = inForce(said_.meters, std::llround(tick), meter);
            double length = meter.barInWholes() * perWhole_;
            Meter own = meter;
            const auto next = said_.meters.upper_bound(std::llround(tick));
            if (next != said_.meters.end() && static_cast<double>(next->first) < tick + length - 0.5) {
                length = static_cast<double>(next->first) - tick;
                const auto cut = meterOf(length / perWhole_);
                if (!cut)
                    return fail(
                        ErrorKind::badValue,
                        fmt::format("{} changes its meter in the middle of bar {}, at no note a meter can end at",
                                    named_, bar));
                own = *cut;
            }
            if (map_.meters.empty() || map_.meters.back().meter != own)
                map_.meters.push_back({bar, own});
            if (auto added = addTempos(bar, own, tick, length); !added)
                return tl::unexpected(added.error());
            tick += length;
        }
        return std::move(map_);
    }

private:
    double lastSaid() const {
        const auto last = [](const auto& list) { return list.empty() ? 0 : list.rbegin()->first; };
        return static_cast<double>(std::max({last(said_.tempos), last(said_.meters), said_.named}));
    }

    template <class List, class Value>
    static Value inForce(const List& list, std::int64_t tick, Value before) {
        const auto after = list.upper_bound(tick);
        return after == list.begin() ? before : std::prev(after)->second;
    }

    static std::optional<Meter> meterOf(double wholes) {
        for (int unit = 4; unit <= 32; unit *= 2)
            if (const double beats = wholes * unit;
                std::abs(beats - std::round(beats)) < 1e-6 && beats >= 0.5 && beats <= 32)
                return Meter{static_cast<int>(std::round(beats)), unit};
        return std::nullopt;
    }

    /// The tempo of the bar's begin, and those that follow inside it.
    Expected<void> addTempos(int bar, Meter meter, double tick, double length) {
        const std::int64_t begin = std::llround(tick);
        if (auto added = addTempo(bar, 1, inForce(said_.tempos, begin, defaultTempo)); !added)
            return added;
        for (auto change = said_.tempos.upper_bound(begin);
             change != said_.tempos.end() && static_cast<double>(change->first) < tick + length - 0.5; ++change) {
            const double wholes = (static_cast<double>(change->first) - tick) / perWhole_;
            if (auto added = addTempo(bar, 1 + wholes * meter.unit, change->second); !added)
                return added;
        }
        return {};
    }

    Expected<void> addTempo(int bar, double beat, double quarter) {
        const Bpm bpm{60e6 / quarter};
        if (bpm < slowestTempo || bpm > fastestTempo)
            return fail(ErrorKind::badValue,
                        fmt::format("{} holds a tempo outside {} to {} BPM", named_,
                                    trimmedNumber(slowestTempo.value), trimmedNumber(fastestTempo.value)));
        if (map_.tempos.empty() || map_.tempos.back().bpm != bpm)
            map_.tempos.push_back({bar, bpm, false, beat});
        return {};
    }

    const Said& said_;
    const std::string& named_;
    double perWhole_;
    MapData map_;
};

/// The bar whose begin is nearest to each of some ticks.
class BarsAtTicks {
public:
    BarsAtTicks(const MidiFile& file, const MapData& map) : map_(map), perWhole_(4.0 * file.ticksPerQuarter) {}

    /// Of ascending ticks.
    int nearest(std::int64_t tick) {
        while (static_cast<double>(tick) > begin_ + length() / 2 && bar_ < maxBars) {
            begin_ += length();
            ++bar_;
        }
        return bar_;
    }

private:
    double length() const {
        const auto after = std::upper_bound(map_.meters.begin(), map_.meters.end(), bar_,
                                            [](int b, const MeterChange& change) { return b < change.bar; });
        return std::prev(after)->meter.barInWholes() * perWhole_;
    }

    const MapData& map_;
    double perWhole_;
    int bar_ = 1;
    double begin_ = 0; ///< its tick
};

std::vector<Marker> markersOf(const Said& said, BarsAtTicks bars) {
    std::map<int, std::string> atBars;
    for (const auto& [tick, name] : said.markers)
        atBars[bars.nearest(tick)] = name;
    std::vector<Marker> markers;
    markers.reserve(atBars.size());
    for (auto& [bar, name] : atBars)
        markers.push_back({bar, std::move(name)});
    return markers;
}

/// From `bar` on `by` is added to the numbers; what comes before counts no longer.
template <class Change>
std::vector<Change> renumbered(const std::vector<Change>& changes, int bar, int by) {
    std::vector<Change> kept;
    for (const Change& change : changes) {
        if (change.bar <= bar && placeOf(change) <= BarBeat{bar, 1}) {
            kept = {change}; // rules the first bars
            putAtBarLine(kept.front(), 1);
        } else {
            kept.push_back(change);
            kept.back().bar += by;
        }
    }
    return kept;
}

/// The file's `bar` is called `number`, and time stays as it is.
void renumber(ReadTempoMap& read, SampleRate rate, int bar, int number) {
    const Seconds begin = MusicalMap(read.map, rate).timeOf(bar, 0);
    read.map.meters = renumbered(read.map.meters, bar, number - bar);
    read.map.tempos = renumbered(read.map.tempos, bar, number - bar);
    read.map.origin = {};
    const Seconds before = MusicalMap(read.map, rate).timeOf(number, 0);
    read.map.origin = SongFrame{} + toFrames(Seconds{begin.value - before.value}, rate);
    for (Marker& marker : read.markers)
        marker.bar += number - bar;
    std::erase_if(read.markers, [](const Marker& marker) { return marker.bar < 1; });
}

} // namespace

std::optional<Meter> meterIn(const MidiEvent& event) {
    if (!event.isMeta(midi::meter) || event.data.size() < 2)
        return std::nullopt;
    const int beats = static_cast<std::uint8_t>(event.data[0]), power = static_cast<std::uint8_t>(event.data[1]);
    if (power > 5)
        return std::nullopt;
    const Meter meter{beats, 1 << power};
    return isMeter(meter) ? std::optional(meter) : std::nullopt;
}

Expected<ReadTempoMap> tempoMapOf(const MidiFile& file, SampleRate rate, const std::string& named) {
    const auto said = collect(file, named);
    if (!said)
        return tl::unexpected(said.error());
    return Reader(file, *said, named).run().map([&](const MapData& map) {
        ReadTempoMap read{map, markersOf(*said, {file, map})};
        if (said->number > 0)
            renumber(read, rate, BarsAtTicks(file, map).nearest(said->named), said->number);
        return read;
    });
}

} // namespace lampo
