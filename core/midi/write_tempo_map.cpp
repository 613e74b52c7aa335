#include "midi/tempo_map.h"

#include "map/musical_map.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <fmt/core.h>
#include <set>

namespace lampo {
namespace {

constexpr std::int64_t largestTempo = 0xFFFFFF;
constexpr double maxDeviation =
    10; ///< microseconds, half a frame at 48 kHz: before a tempo corrects what rounding left

/// Writes tempos so that the time up to each of them is right to some microseconds.
class Writer {
public:
    Writer(const MapData& data, SampleRate rate, int lastBar) : map_(data, rate), data_(data), last_(lastBar) {}

    MidiFile run() {
        int bar = 1;
        while (map_.barStart(bar).frame < 0)
            ++bar;
        if (bar > 1 || map_.barStart(bar).frame > 0) {
            lead(microsAt(bar, 0));
            track().push_back({tick_, 0xFF, midi::text, fmt::format("bar {}", bar)});
        }
        Meter meter{0, 1};
        for (; bar <= last_; ++bar) {
            if (const Meter now = map_.meterOf(bar); now != meter)
                sayMeter(meter = now);
            sayTempos(bar);
        }
        return std::move(file_);
    }

private:
    std::vector<MidiEvent>& track() {
        if (file_.tracks.empty())
            file_.tracks.emplace_back();
        return file_.tracks.front();
    }

    void sayMeter(Meter meter) {
        const auto power = static_cast<char>(std::countr_zero(static_cast<unsigned>(meter.unit)));
        track().push_back({tick_, 0xFF, midi::meter, {static_cast<char>(meter.beats), power, 24, 8}});
    }

    /// `ticks` that end at `micros` from the song's zero.
    void sayTempo(std::int64_t ticks, double micros) {
        const double quarters = static_cast<double>(ticks) / file_.ticksPerQuarter;
        const double exact = (micros - written_) / quarters;
        const bool stays = std::abs(exact - static_cast<double>(said_)) * quarters < maxDeviation;
        const auto tempo = stays ? said_ : std::clamp<std::int64_t>(std::llround(exact), 1, largestTempo);
        written_ += static_cast<double>(tempo) * quarters;
        if (tempo != said_) {
            const std::string data{static_cast<char>(tempo >> 16), static_cast<char>(tempo >> 8 & 0xFF),
                                   static_cast<char>(tempo & 0xFF)};
            track().push_back({tick_, 0xFF, midi::tempo, data});
            said_ = tempo;
        }
        tick_ += ticks;
    }

    double microsAt(int bar, double wholes) const { return map_.timeOf(bar, wholes).value * 1e6; }

    /// What lies before the first whole bar, as whole beats of nearly the first tempo.
    void lead(double micros) {
        if (micros <= 0)
            return;
        const double beats = std::max(1.0, std::round(micros * map_.tempoOf(1).value / 60e6));
        const int perBar = static_cast<int>(std::min(beats, 32.0));
        sayMeter({perBar, 4});
        sayTempo(std::llround(beats) * file_.ticksPerQuarter, micros);
    }

    /// Ticks of a bar at which another tempo is said, and its end: its changes, and each sixteenth of a ramp.
    std::set<std::int64_t> cutsOf(int bar) const {
        const Meter meter = map_.meterOf(bar);
        const double length = meter.barInWholes();
        std::set<std::int64_t> cuts{ticks(length)};
        auto change = std::prev(
            std::upper_bound(data_.tempos.begin(), data_.tempos.end(), std::max(BarBeat{bar, 1}, BarBeat{}),
                             [](const BarBeat& place, const TempoChange& c) { return place < placeOf(c); }));
        for (double from = 0; change != data_.tempos.end() && change->bar <= bar; ++change) {
            const auto next = std::next(change);
            const bool inside = next != data_.tempos.end() && next->bar == bar && next->beat > 1;
            const double to = inside ? std::min((next->beat - 1) / meter.unit, length) : length;
            if (change->ramp && next != data_.tempos.end())
                for (int sixteenth = static_cast<int>(std::ceil(from * 16)); sixteenth < to * 16; ++sixteenth)
                    cuts.insert(ticks(sixteenth / 16.0));
            cuts.insert(ticks(to));
            from = to;
        }
        cuts.erase(0);
        return cuts;
    }

    void sayTempos(int bar) {
        std::int64_t from = 0;
        for (const std::int64_t to : cutsOf(bar)) {
            sayTempo(to - from, microsAt(bar, static_cast<double>(to) / static_cast<double>(ticks(1))));
            from = to;
        }
    }

    std::int64_t ticks(double wholes) const { return std::llround(wholes * 4 * file_.ticksPerQuarter); }

    MusicalMap map_;
    const MapData& data_;
    int last_;
    MidiFile file_;
    std::int64_t tick_ = 0;
    std::int64_t said_ = 0;
    double written_ = 0; ///< microseconds
};

} // namespace

MidiFile tempoMapFile(const MapData& map, SampleRate rate, int lastBar) {
    return Writer(map, rate, lastBar).run();
}

} // namespace lampo
