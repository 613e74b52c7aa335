#include "map/musical_map.h"

#include <algorithm>
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

} // namespace

MusicalMap::MusicalMap(const MapData& data, SampleRate rate) : rate_(rate) {
    std::set<int> bars{1};
    for (const auto& change : data.meters)
        bars.insert(change.bar);
    for (const auto& change : data.tempos)
        bars.insert(change.bar);

    double start = static_cast<double>(data.origin.frame);
    for (const int bar : bars) {
        if (!spans_.empty())
            start += spans_.back().framesPerBar() * (bar - spans_.back().firstBar);
        const Bpm bpm = inForce(data.tempos, bar).bpm;
        // A quarter note lasts 60 / tempo seconds, a whole note four of them.
        spans_.push_back({bar, start, 240.0 / bpm.value * rate.hz, inForce(data.meters, bar).meter, bpm});
    }
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
    return spanOf(bar).bpm;
}

SongFrame MusicalMap::barStart(int bar) const {
    return at(bar, 0.0);
}

SongFrame MusicalMap::at(int bar, double wholes) const {
    const Span& span = spanOf(bar);
    return {std::llround(span.start + (bar - span.firstBar) * span.framesPerBar() + wholes * span.framesPerWhole)};
}

SongFrame MusicalMap::at(BarBeat place) const {
    return at(place.bar, (place.beat - 1.0) / meterOf(place.bar).unit);
}

BarBeat MusicalMap::barBeat(SongFrame frame) const {
    const auto position = static_cast<double>(frame.frame);
    const Span& span = spanAt(position);
    const double offset = position - span.start;
    const int barsIn = static_cast<int>(std::floor((offset + 0.5) / span.framesPerBar()));
    const double inBar = std::max(0.0, offset - barsIn * span.framesPerBar());
    return {span.firstBar + barsIn, 1.0 + inBar / span.framesPerWhole * span.meter.unit};
}

} // namespace lampo
