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

/// A place counted from the start of its bar, in whole notes.
struct InBar {
    int bar;
    double wholes;
    auto operator<=>(const InBar&) const = default;
};

Meter meterAt(const MapData& data, int bar) {
    return inForce(data.meters, bar).meter;
}

/// A change beyond the end of its bar (a meter can become shorter) lies at that end.
InBar inBar(const MapData& data, const TempoChange& change) {
    const Meter meter = meterAt(data, change.bar);
    return {change.bar, std::clamp((change.beat - 1) / meter.unit, 0.0, meter.barInWholes())};
}

double wholesBetween(const MapData& data, InBar from, InBar to) {
    double wholes = to.wholes - from.wholes;
    for (int bar = from.bar; bar < to.bar; ++bar)
        wholes += meterAt(data, bar).barInWholes();
    return wholes;
}

} // namespace

bool isMeter(Meter meter) {
    return limits::beats.holds(meter.beats) && 1 <= meter.unit && meter.unit <= 32 &&
           std::has_single_bit(static_cast<unsigned>(meter.unit));
}

MusicalMap::MusicalMap(const MapData& data, SampleRate rate) : rate_(rate) {
    std::set<InBar> places{{1, 0}};
    for (const auto& change : data.meters)
        places.insert({change.bar, 0});
    for (const auto& change : data.tempos)
        places.insert(inBar(data, change));

    auto start = static_cast<double>(data.origin.frame);
    auto change = data.tempos.begin();
    for (const InBar place : places) {
        if (!spans_.empty())
            start += spans_.back().frames(spans_.back().upTo(place.bar, place.wholes));
        while (std::next(change) != data.tempos.end() && inBar(data, *std::next(change)) <= place)
            ++change;
        const auto next = std::next(change);
        const InBar from = inBar(data, *change);
        double ramp = 0;
        if (change->ramp && next != data.tempos.end())
            if (const double wholes = wholesBetween(data, from, inBar(data, *next)); wholes > 0)
                ramp = (next->bpm.value - change->bpm.value) / wholes;
        const Bpm bpm{change->bpm.value + ramp * wholesBetween(data, from, place)};
        // A quarter note lasts 60 / tempo seconds, a whole note four of them.
        spans_.push_back(
            {place.bar, place.wholes, start, 240.0 / bpm.value * rate.hz, meterAt(data, place.bar), bpm, ramp});
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

const MusicalMap::Span& MusicalMap::spanOf(int bar, double wholes) const {
    const auto after = std::upper_bound(spans_.begin(), spans_.end(), InBar{bar, wholes},
                                        [](const InBar& place, const Span& span) {
                                            return place < InBar{span.firstBar, span.into};
                                        });
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
    return {span.bpm.value + span.ramp * std::max(0.0, span.upTo(bar, 0))};
}

SongFrame MusicalMap::barStart(int bar) const {
    return at(bar, 0.0);
}

double MusicalMap::exactly(int bar, double wholes) const {
    // Counted from the bar that the place lies in: beyond it other changes may rule.
    while (wholes < 0)
        wholes += meterOf(--bar).barInWholes();
    // NOLINTNEXTLINE(clang-analyzer-security.FloatLoopCounter): bars are counted; it is the length of each
    for (double length = meterOf(bar).barInWholes(); wholes >= length; length = meterOf(bar).barInWholes()) {
        wholes -= length;
        ++bar;
    }
    const Span& span = spanOf(bar, wholes);
    return span.start + span.frames(span.upTo(bar, wholes));
}

SongFrame MusicalMap::at(int bar, double wholes) const {
    return SongFrame{std::llround(exactly(bar, wholes))};
}

Seconds MusicalMap::timeOf(int bar, double wholes) const {
    return {exactly(bar, wholes) / rate_.hz};
}

SongFrame MusicalMap::at(BarBeat place) const {
    return at(place.bar, (place.beat - 1.0) / meterOf(place.bar).unit);
}

BarBeat MusicalMap::barBeat(SongFrame frame) const {
    const auto position = static_cast<double>(frame.frame);
    const Span& span = spanAt(position);
    const double offset = position - span.start;
    const double bar = span.meter.barInWholes();
    const int barsIn = static_cast<int>(std::floor((span.into + span.wholes(offset + 0.5)) / bar));
    const double in = std::max(0.0, span.into + span.wholes(offset) - barsIn * bar);
    return {span.firstBar + barsIn, 1.0 + in * span.meter.unit};
}

} // namespace lampo
