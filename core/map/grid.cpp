#include "map/grid.h"

#include <bit>
#include <cmath>

namespace lampo {
namespace {

// Whole multiples, up to the rounding of a double.
bool isMultiple(double value, double of) {
    const double ratio = value / of;
    return std::abs(ratio - std::round(ratio)) < 1e-9;
}

LineWeight weightOf(double wholes, double beat) {
    if (wholes == 0.0)
        return LineWeight::bar;
    if (isMultiple(wholes, beat))
        return LineWeight::beat;
    return isMultiple(wholes, beat / 2) ? LineWeight::half : LineWeight::fine;
}

/// Pairs of eighths, sixteenths and finer swing.
bool swings(NoteValue value) {
    return value.numerator == 1 && value.denominator >= 8 &&
           std::has_single_bit(static_cast<unsigned>(value.denominator));
}

} // namespace

std::vector<GridLine> gridLines(const MusicalMap& map, Range<SongFrame> range,
                                const std::function<GridRule(int bar)>& gridOf) {
    std::vector<GridLine> lines;
    if (range.empty())
        return lines;
    for (int bar = map.barAt(range.begin); map.barStart(bar) < range.end; ++bar) {
        const Meter meter = map.meterOf(bar);
        const GridRule rule = gridOf(bar);
        const double step = rule.value.ofWhole();
        const double late = swings(rule.value) ? step * (rule.swing / 50 - 1) : 0;
        const double beat = 1.0 / meter.unit;
        const FrameCount stepFrames = map.at(bar, step) - map.barStart(bar);
        for (int line = 0; line * step < meter.barInWholes() - 1e-9; ++line) {
            const double wholes = line * step;
            const SongFrame frame = map.at(bar, wholes + (line % 2 == 1 ? late : 0));
            if (range.contains(frame))
                lines.push_back({frame, {bar, 1.0 + wholes / beat}, weightOf(wholes, beat), stepFrames});
        }
    }
    return lines;
}

} // namespace lampo
