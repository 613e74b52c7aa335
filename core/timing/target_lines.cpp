#include "timing/target_lines.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace lampo {
namespace {

constexpr double quartersInWhole = 4;

void bendByFeel(const Session& session, const MusicalMap& map, std::vector<TargetLine>& lines) {
    for (TargetLine& line : lines) {
        const FeelUse use = session.timingAt(line.place).feel;
        const Feel* feel = session.feelNamed(use.name);
        if (!feel || use.amount == 0)
            continue;
        const Meter meter = map.meterOf(line.place.bar);
        // Where the line lies, swung or not, counted from its bar line.
        const double wholes = (map.barBeat(line.frame).beat - 1) / meter.unit;
        const double late = latenessAt(*feel, wholes * quartersInWhole) / quartersInWhole * use.amount / 100;
        const SongFrame at = map.at(line.place.bar, wholes + late);
        line.bent = at - line.frame;
        line.frame = at;
    }
}

/// Each attack draws the line that is nearest to it; of several attacks the nearest wins.
void drawToAttacks(std::span<const SongFrame> attacks, FrameCount near, std::vector<TargetLine>& lines) {
    std::vector<std::optional<FrameCount>> drawn(lines.size());
    for (const SongFrame attack : attacks) {
        const auto nearest = lines.begin() + static_cast<std::ptrdiff_t>(nearestLine(attack, lines));
        const FrameCount away = attack - nearest->frame;
        auto& known = drawn[static_cast<std::size_t>(nearest - lines.begin())];
        if (abs(away) <= near && (!known || abs(away) < abs(*known)))
            known = away;
    }
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (drawn[i]) {
            lines[i].frame = lines[i].frame + *drawn[i];
            lines[i].bent = lines[i].bent + *drawn[i];
        }
}

/// Where a bar is longer or shorter than the feel's own, or a section has another feel, ends need not fit.
void keepApart(std::vector<TargetLine>& lines) {
    for (std::size_t i = 1; i < lines.size(); ++i)
        if (const FrameCount back = lines[i - 1].frame + FrameCount{1} - lines[i].frame; back > FrameCount{}) {
            lines[i].frame = lines[i].frame + back;
            lines[i].bent = lines[i].bent + back;
        }
}

} // namespace

std::size_t nearestLine(SongFrame place, std::span<const TargetLine> lines) {
    const auto after = std::partition_point(lines.begin(), lines.end(),
                                            [&](const TargetLine& line) { return line.frame < place; });
    const bool before =
        after == lines.end() || (after != lines.begin() && place - std::prev(after)->frame <= after->frame - place);
    return static_cast<std::size_t>((before ? std::prev(after) : after) - lines.begin());
}

std::vector<TargetLine> targetLines(const Session& session, const MusicalMap& map, Range<SongFrame> range,
                                    std::span<const SongFrame> attacks) {
    std::vector<TargetLine> lines;
    for (const GridLine& line : gridLines(map, range, [&](int bar, int beat) {
             const TimingSettings timing = session.timingAt({bar, static_cast<double>(beat)});
             return GridRule(timing.grid, timing.swing);
         }))
        lines.push_back({line, {}});
    if (session.usesFeel())
        bendByFeel(session, map, lines);
    if (session.companionLines && !attacks.empty() && !lines.empty())
        drawToAttacks(attacks, toFrames(session.companionLines->near, session.rate), lines);
    keepApart(lines);
    return lines;
}

} // namespace lampo
