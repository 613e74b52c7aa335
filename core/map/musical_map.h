#pragma once

#include "base/range.h"
#include "map/map_data.h"

namespace lampo {

/// A place in the music. Beats count from 1 in the meter's own unit and may have a fraction.
struct BarBeat {
    int bar = 1;     ///< may be below 1: before bar 1
    double beat = 1; ///< of the bar's meter, from 1, with a fraction
    auto operator<=>(const BarBeat&) const = default;
};
inline BarBeat placeOf(const TempoChange& change) {
    return {change.bar, change.beat};
}
inline BarBeat placeOf(const MeterChange& change) {
    return {change.bar, 1};
}

/// Tempo and meter turned into frames. Where the tempo b (BPM) changes by k for each whole note, x whole notes last
/// the integral of 240 / (b + k·x), that is 240 / k · ln(1 + k·x / b) seconds. Every line is computed from the
/// start of its span in double precision and rounded once, so errors do not add up. Immutable.
class MusicalMap {
public:
    /// Of a valid `data`; keeps what it needs of it.
    MusicalMap(const MapData& data, SampleRate rate);

    /// That its frames are of.
    SampleRate rate() const { return rate_; }
    /// The meter that rules in a bar.
    Meter meterOf(int bar) const;
    /// At the bar's begin.
    Bpm tempoOf(int bar) const;
    /// The first line of a bar.
    SongFrame barStart(int bar) const;
    /// `wholes` whole notes after the start of `bar`, also before it and beyond its end (the farther, the slower).
    SongFrame at(int bar, double wholes) const;
    /// Where a place lies.
    SongFrame at(BarBeat place) const;
    /// The same from song time 0 on, not rounded to frames.
    Seconds timeOf(int bar, double wholes) const;
    /// The place that a frame lies at.
    BarBeat barBeat(SongFrame frame) const;
    /// The bar that a frame lies in.
    int barAt(SongFrame frame) const { return barBeat(frame).bar; }

private:
    /// A stretch of one meter and one tempo, or one even change of it.
    struct Span {
        int firstBar;          ///< the bar that it begins in
        double into;           ///< whole notes after that bar's begin
        double start;          ///< frames
        double framesPerWhole; ///< at its start
        Meter meter;
        Bpm bpm;     ///< at its start
        double ramp; ///< BPM for each whole note

        /// Frames from its start to `wholes` notes later, and back. Before its start the tempo is that of the
        /// start.
        double frames(double wholes) const;
        double wholes(double frames) const;
        /// Whole notes from its start to a place that it rules.
        double upTo(int bar, double wholesInBar) const {
            return (bar - firstBar) * meter.barInWholes() + wholesInBar - into;
        }
    };

    /// What rules a place `wholes` notes after the start of `bar`, in it.
    const Span& spanOf(int bar, double wholes = 0) const;
    const Span& spanAt(double frame) const;
    double exactly(int bar, double wholes) const; ///< frames

    SampleRate rate_;
    std::vector<Span> spans_;
};

} // namespace lampo
