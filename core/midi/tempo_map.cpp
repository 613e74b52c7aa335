#include "midi/tempo_map.h"

#include "map/musical_map.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <map>
#include <optional>

namespace lampo {
namespace {

constexpr double usualTempo = 500000; ///< microseconds a quarter, where a file says nothing
constexpr int mostBars = 100000;
constexpr std::int64_t largestTempo = 0xFFFFFF;

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
    std::int64_t end = 0;
};

Expected<Said> collect(const MidiFile& file, const std::string& named) {
    Said said;
    for (const auto& track : file.tracks)
        for (const MidiEvent& event : track) {
            if (event.isMeta(midi::tempo)) {
                if (event.data.size() != 3 || wholeOf(event.data) == 0)
                    return fail(ErrorKind::badValue, named + " holds a tempo that is none");
                said.tempos[event.tick] = static_cast<double>(wholeOf(event.data));
            } else if (event.isMeta(midi::meter)) {
                const int beats = event.data.size() < 2 ? 0 : static_cast<std::uint8_t>(event.data[0]);
                const int power = event.data.size() < 2 ? 9 : static_cast<std::uint8_t>(event.data[1]);
                if (beats < 1 || beats > 32 || power > 5)
                    return fail(ErrorKind::badValue, named +
                                                         " holds a meter that a map cannot hold: 1 to 32 beats of "
                                                         "1, 2, 4, 8, 16 or 32");
                said.meters[event.tick] = {beats, 1 << power};
            }
            said.end = std::max(said.end, event.tick);
        }
    return said;
}

class Reader {
public:
    Reader(const MidiFile& file, const Said& said, const std::string& named)
        : said_(said), named_(named), perWhole_(4.0 * file.ticksPerQuarter) {}

    Expected<ReadTempoMap> run() {
        read_.map.meters.clear();
        read_.map.tempos.clear();
        double tick = 0;
        Meter meter = inForce(said_.meters, 0, Meter{4, 4});
        for (int bar = 1; bar == 1 || tick <= lastSaid(); ++bar) {
            if (bar > mostBars)
                return fail(ErrorKind::badValue, named_ + " has too many bars");
            meter = inForce(said_.meters, std::llround(tick), meter);
            double length = meter.barInWholes() * perWhole_;
            Meter own = meter;
            const auto next = said_.meters.upper_bound(std::llround(tick));
            if (next != said_.meters.end() && static_cast<double>(next->first) < tick + length - 0.5) {
                length = static_cast<double>(next->first) - tick;
                const auto cut = meterOf(length / perWhole_);
                if (!cut)
                    return fail(ErrorKind::badValue, named_ + " changes its meter in the middle of bar " +
                                                         std::to_string(bar) + ", at no note a meter can end at");
                own = *cut;
            }
            add(read_.map.meters, MeterChange{bar, own}, [](auto& a, auto& b) { return a.meter == b.meter; });
            if (auto added = addTempo(bar, tick, length); !added)
                return tl::unexpected(added.error());
            tick += length;
        }
        return std::move(read_);
    }

private:
    double lastSaid() const {
        const auto last = [](const auto& list) { return list.empty() ? 0 : list.rbegin()->first; };
        return static_cast<double>(std::max(last(said_.tempos), last(said_.meters)));
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

    template <class Change, class Same>
    static void add(std::vector<Change>& list, const Change& change, const Same& same) {
        if (list.empty() || !same(list.back(), change))
            list.push_back(change);
    }

    Expected<void> addTempo(int bar, double tick, double length) {
        double micros = 0, at = tick; // that the bar takes
        double quarter = inForce(said_.tempos, std::llround(tick), usualTempo);
        bool changes = false;
        for (auto change = said_.tempos.upper_bound(std::llround(tick));
             change != said_.tempos.end() && static_cast<double>(change->first) < tick + length - 0.5; ++change) {
            micros += (static_cast<double>(change->first) - at) / perWhole_ * 4 * quarter;
            at = static_cast<double>(change->first);
            changes = changes || change->second != quarter;
            quarter = change->second;
        }
        micros += (tick + length - at) / perWhole_ * 4 * quarter;
        read_.averaged += changes;
        const Bpm bpm{changes ? 60e6 * (length / perWhole_ * 4) / micros : 60e6 / quarter};
        if (bpm < slowestTempo || bpm > fastestTempo)
            return fail(ErrorKind::badValue, named_ + " holds a tempo outside 10 to 999 BPM");
        add(read_.map.tempos, TempoChange{bar, bpm}, [](auto& a, auto& b) { return a.bpm == b.bpm; });
        return {};
    }

    const Said& said_;
    const std::string& named_;
    double perWhole_;
    ReadTempoMap read_;
};

/// Writes tempos so that the time up to each of them is right to the microsecond.
class Writer {
public:
    Writer(const MapData& data, SampleRate rate, int lastBar)
        : map_(data, rate), rate_(rate), data_(data), last_(lastBar) {}

    MidiFile run() {
        int bar = 1;
        while (map_.barStart(bar).frame < 0)
            ++bar;
        lead(map_.barStart(bar));
        Meter meter{0, 1};
        for (; bar <= last_; ++bar) {
            if (map_.meterOf(bar) != meter)
                sayMeter(meter = map_.meterOf(bar));
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
        const auto tempo = std::clamp<std::int64_t>(std::llround((micros - written_) / quarters), 1, largestTempo);
        written_ += static_cast<double>(tempo) * quarters;
        if (tempo != said_) {
            const std::string data{static_cast<char>(tempo >> 16), static_cast<char>(tempo >> 8 & 0xFF),
                                   static_cast<char>(tempo & 0xFF)};
            track().push_back({tick_, 0xFF, midi::tempo, data});
            said_ = tempo;
        }
        tick_ += ticks;
    }

    double microsAt(int bar, double wholes) const {
        return static_cast<double>(map_.at(bar, wholes).frame) * 1e6 / rate_.hz;
    }

    /// What lies before the first whole bar, as whole beats of nearly the first tempo.
    void lead(SongFrame begin) {
        if (begin.frame <= 0)
            return;
        const double micros = static_cast<double>(begin.frame) * 1e6 / rate_.hz;
        const double beats = std::max(1.0, std::round(micros * map_.tempoOf(1).value / 60e6));
        const int perBar = static_cast<int>(std::min(beats, 32.0));
        sayMeter({perBar, 4});
        sayTempo(std::llround(beats) * file_.ticksPerQuarter, micros);
    }

    void sayTempos(int bar) {
        const auto change = std::prev(std::upper_bound(data_.tempos.begin(), data_.tempos.end(), std::max(bar, 1),
                                                       [](int b, const TempoChange& c) { return b < c.bar; }));
        const double wholes = map_.meterOf(bar).barInWholes();
        const bool ramps = change->ramp && std::next(change) != data_.tempos.end();
        const int parts = ramps ? static_cast<int>(std::ceil(wholes * 16)) : 1;
        for (int part = 1; part <= parts; ++part) {
            const double to = std::min(wholes, ramps ? part / 16.0 : wholes);
            const double from = ramps ? (part - 1) / 16.0 : 0;
            sayTempo(std::llround((to - from) * 4 * file_.ticksPerQuarter), microsAt(bar, to));
        }
    }

    MusicalMap map_;
    SampleRate rate_;
    const MapData& data_;
    int last_;
    MidiFile file_;
    std::int64_t tick_ = 0;
    std::int64_t said_ = 0;
    double written_ = 0; ///< microseconds
};

} // namespace

Expected<ReadTempoMap> tempoMapOf(const MidiFile& file, const std::string& named) {
    return collect(file, named).and_then([&](const Said& said) { return Reader(file, said, named).run(); });
}

std::vector<Marker> markersOf(const MidiFile& file, const MapData& map) {
    std::map<std::int64_t, std::string> names; // by tick
    for (const auto& track : file.tracks)
        for (const MidiEvent& event : track)
            if (event.isMeta(midi::marker) && !event.data.empty())
                names[event.tick] = event.data;
    std::map<int, std::string> atBars;
    double tick = 0; // of the bar's begin
    int bar = 1;
    for (const auto& [at, name] : names) {
        const auto length = [&] {
            const auto after = std::upper_bound(map.meters.begin(), map.meters.end(), bar,
                                                [](int b, const MeterChange& change) { return b < change.bar; });
            return std::prev(after)->meter.barInWholes() * 4 * file.ticksPerQuarter;
        };
        while (static_cast<double>(at) > tick + length() / 2 && bar < mostBars) {
            tick += length();
            ++bar;
        }
        atBars[bar] = name;
    }
    std::vector<Marker> markers;
    for (auto& [place, name] : atBars)
        markers.push_back({place, std::move(name)});
    return markers;
}

MidiFile tempoMapFile(const MapData& map, SampleRate rate, int lastBar) {
    return Writer(map, rate, lastBar).run();
}

} // namespace lampo
