#include "midi/tick_clock.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr double usualTempo = 500000; ///< microseconds for each quarter note

double tempoIn(const MidiEvent& event) {
    const auto byte = [&](std::size_t at) { return static_cast<unsigned char>(event.data[at]); };
    return byte(0) << 16 | byte(1) << 8 | byte(2);
}

} // namespace

TickClock::TickClock(const MidiFile& file) : spans_{{0, 0, usualTempo / file.ticksPerQuarter}} {
    std::vector<const MidiEvent*> tempos;
    for (const auto& track : file.tracks)
        for (const MidiEvent& event : track)
            if (event.isMeta(midi::tempo) && event.data.size() == 3)
                tempos.push_back(&event);
    std::stable_sort(tempos.begin(), tempos.end(),
                     [](const MidiEvent* a, const MidiEvent* b) { return a->tick < b->tick; });
    for (const MidiEvent* event : tempos) {
        const Span& last = spans_.back();
        const double micros = last.micros + static_cast<double>(event->tick - last.tick) * last.microsPerTick;
        spans_.push_back({event->tick, micros, tempoIn(*event) / file.ticksPerQuarter});
    }
}

std::int64_t TickClock::tickAt(Seconds time) const {
    const double micros = std::max(0.0, time.value * 1e6);
    const auto behind = std::upper_bound(spans_.begin(), spans_.end(), micros,
                                         [](double at, const Span& span) { return at < span.micros; });
    const Span& span = *std::prev(behind);
    return span.tick + std::llround((micros - span.micros) / span.microsPerTick);
}

} // namespace lampo
