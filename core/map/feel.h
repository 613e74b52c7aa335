#pragma once

#include "base/limits.h"
#include "base/units.h"

#include <span>
#include <string>
#include <vector>

namespace lampo {

/// How early or late one place of the bar is played, and how loud.
struct FeelPoint {
    double quarters = 0; ///< from the bar line
    double late = 0;     ///< quarter notes, so that it scales with the tempo; negative is early
    Decibels level{};    ///< relative to a typical strong hit
    bool operator==(const FeelPoint&) const = default;
};

/// The feel of a performance: what happens to the places of one bar.
struct Feel {
    std::string name;              ///< not empty; by it sections and the song use it
    double bar = 4;                ///< quarter notes, 0.125 to 128
    std::vector<FeelPoint> points; ///< ascending in quarters, 0 <= quarters < bar, played in the same order
    bool operator==(const Feel&) const = default;
};
inline constexpr double longestFeelBar = 128;
inline constexpr std::size_t maxFeelPoints = 1000;

/// Whether all is in range and the points are played in their order.
bool isFeel(const Feel& feel);

/// One hit of the performance that a feel is taken of.
struct FeltHit {
    double quarters; ///< place of the line it means, from its bar line
    double late;     ///< quarter notes
    Decibels level;  ///< against a typical strong hit
};

/// The mean of all hits at each place; a place that would be played after the next one is drawn back before it.
Feel feelOf(std::string name, double barQuarters, std::span<const FeltHit> hits);

/// Quarter notes by which a place is late: between two points what lies between them, around the bar's end too. In
/// a bar of another length places go on from its bar line, beyond the feel's own bar from its begin again.
double latenessAt(const Feel& feel, double quarters);

/// Which feel bends the grid, and how much of it.
struct FeelUse {
    std::string name{};                              ///< empty: none, lines lie where map and swing put them
    double amount = limits::feelAmount.defaultValue; ///< per cent
    bool operator==(const FeelUse&) const = default;
    /// Whether no feel bends the lines.
    bool straight() const { return name.empty(); }
};

/// Lines give way to the attacks of a companion that lie near them.
struct CompanionLines {
    std::string name;                                      ///< of the companion
    Milliseconds near{limits::companionNear.defaultValue}; ///< lines this near give way
    Decibels threshold{limits::threshold.defaultValue};    ///< relative to its typical strong attack
    bool operator==(const CompanionLines&) const = default;
};

} // namespace lampo
