#include "map/musical_map.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>

namespace lampo {
namespace {

template <class Change>
const Change& inForce(const std::vector<Change>& changes, int bar) {
    const auto after =
        std::upper_bound(changes.begin(), changes.end(), bar, [](int b, const Change& c) { return b < c.bar; });
    return after == changes.begin() ? changes.front() : *std::prev(after);
}

/// The tempo change that rules a bar, and the one after it (null behind the last).
std::pair<const TempoChange*, const TempoChange*> changesAround(const std::vector<TempoChange>& tempos, int bar) {
    const TempoChange* change = &inForce(tempos, bar);
    const TempoChange* next = change + 1;
    return {change, next == tempos.data() + tempos.size() ? nullptr : next};
}

double wholesBetween(const MapData& data, int from, int to) {
    double wholes = 0;
    for (int bar = from; bar < to; ++bar)
        wholes += inForce(data.meters, bar).meter.barInWholes();
    return wholes;
}

} // namespace

bool isMeter(Meter meter) {
    return 1 <= meter.beats && meter.beats <= 32 && 1 <= meter.unit && meter.unit <= 32 &&
           std::has_single_bit(static_cast<unsigned>(meter.unit));
}

MusicalMap::MusicalMap(const MapData& data, SampleRate rate) : rate_(rate) {
    std::set<int> bars{1};
    for (const auto& change : data.meters)
        bars.insert(change.bar);
    for (const auto& change : data.tempos)
        bars.insert(change.bar);

    double start = static_cast<double>(data.origin.frame);
    for (const int bar : bars) {
        if (!spans_.empty())
            start += spans_.back().frames((bar - spans_.back().firstBar) * spans_.back().meter.barInWholes());
        const auto [change, next] = changesAround(data.tempos, bar);
        const bool ramps = change->ramp && next;
        const double ramp =
            ramps ? (next->bpm.value - change->bpm.value) / wholesBetween(data, change->bar, next->bar) : 0;
        const Bpm bpm{ramps ? change->bpm.value + ramp * wholesBetween(data, change->bar, bar) : change->bpm.value};
        // A quarter note lasts 60 / tempo seconds, a whole note four of them.
        spans_.push_back({bar, start, 240.0 / bpm.value * rate.hz, inForce(data.meters, bar).meter, bpm, ramp});
    }
}

double MusicalMap::Span::frames(double wholes) const {
    if (ramp == 0 || wholes <= 0)
        return wholes * framesPerWhole;
    const double slope = ramp / bpm.value;
    return framesPerWhole / slope * std::log1p(slope * wholes);
}

double MusicalMap::Span::wholes(double frames) const {
    if (ramp == 0 || frames <= 0)
        return frames / framesPerWhole;
    const double slope = ramp / bpm.value;
    return std::expm1(frames * slope / framesPerWhole) / slope;
}

const MusicalMap::Span& MusicalMap::spanOf(int bar) const {
    const auto after =
        std::upper_bound(spans_.begin(), spans_.end(), bar, [](int b, const Span& s) { return b < s.firstBar; });
    return after == spans_.begin() ? spans_.front() : *std::prev(after);
}

const MusicalMap::Span& MusicalMap::spanAt(double frame) const {
    // Half a frame of grace: a bar line that was rounded down still belongs to its own bar.
    const auto after = std::upper_bound(spans_.begin(), spans_.end(), frame + 0.5,
                                        [](double f, const Span& s) { return f < s.start; });
    return after == spans_.begin() ? spans_.front() : *std::prev(after);
}

Meter MusicalMap::meterOf(int bar) const {
    return spanOf(bar).meter;
}

Bpm MusicalMap::tempoOf(int bar) const {
    const Span& span = spanOf(bar);
    return {span.bpm.value + span.ramp * std::max(0, bar - span.firstBar) * span.meter.barInWholes()};
}

SongFrame MusicalMap::barStart(int bar) const {
    return at(bar, 0.0);
}

SongFrame MusicalMap::at(int bar, double wholes) const {
    const Span& span = spanOf(bar);
    return {std::llround(span.start + span.frames((bar - span.firstBar) * span.meter.barInWholes() + wholes))};
}

SongFrame MusicalMap::at(BarBeat place) const {
    return at(place.bar, (place.beat - 1.0) / meterOf(place.bar).unit);
}

BarBeat MusicalMap::barBeat(SongFrame frame) const {
    const auto position = static_cast<double>(frame.frame);
    const Span& span = spanAt(position);
    const double offset = position - span.start;
    const double bar = span.meter.barInWholes();
    const int barsIn = static_cast<int>(std::floor(span.wholes(offset + 0.5) / bar));
    const double inBar = std::max(0.0, span.wholes(offset) - barsIn * bar);
    return {span.firstBar + barsIn, 1.0 + inBar * span.meter.unit};
}

} // namespace lampo
