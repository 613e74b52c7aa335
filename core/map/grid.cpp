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

/// Beats [first, end) of one bar, under one rule.
struct Stretch {
    int bar;
    int first;
    int end;
    GridRule rule;
};

std::vector<Stretch> stretchesOf(int bar, int beats, const std::function<GridRule(int, int)>& gridOf) {
    std::vector<Stretch> stretches{{bar, 0, 1, gridOf(bar, 1)}};
    for (int beat = 1; beat < beats; ++beat)
        if (const GridRule rule = gridOf(bar, beat + 1); rule == stretches.back().rule)
            ++stretches.back().end;
        else
            stretches.push_back({bar, beat, beat + 1, rule});
    return stretches;
}

void addLines(const MusicalMap& map, const Stretch& stretch, Range<SongFrame> range, std::vector<GridLine>& lines) {
    const double beat = 1.0 / map.meterOf(stretch.bar).unit;
    const double step = stretch.rule.value.ofWhole();
    const double late = swings(stretch.rule.value) ? step * (stretch.rule.swing / 50 - 1) : 0;
    const double begin = stretch.first * beat;
    const FrameCount stepFrames = map.at(stretch.bar, begin + step) - map.at(stretch.bar, begin);
    for (int line = 0; begin + line * step < stretch.end * beat - 1e-9; ++line) {
        const double wholes = begin + line * step;
        const SongFrame frame = map.at(stretch.bar, wholes + (line % 2 == 1 ? late : 0));
        if (range.contains(frame))
            lines.push_back({frame, {stretch.bar, 1.0 + wholes / beat}, weightOf(wholes, beat), stepFrames});
    }
}

} // namespace

std::vector<GridLine> gridLines(const MusicalMap& map, Range<SongFrame> range,
                                const std::function<GridRule(int bar, int beat)>& gridOf) {
    std::vector<GridLine> lines;
    if (range.empty())
        return lines;
    for (int bar = map.barAt(range.begin); map.barStart(bar) < range.end; ++bar)
        for (const Stretch& stretch : stretchesOf(bar, map.meterOf(bar).beats, gridOf))
            addLines(map, stretch, range, lines);
    return lines;
}

} // namespace lampo
