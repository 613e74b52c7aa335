#pragma once

#include "pulse/pattern.h"

#include <span>
#include <vector>

namespace lampo {

/// Bars that seem to begin elsewhere than the map says: looked for as the shifts that make bars most alike, with
/// few changes from bar to bar.
class BarShifts {
public:
    /// `hits` ascend and are not empty; map and hits outlive it.
    BarShifts(const MusicalMap& map, std::span<const PulseHit> hits);

    /// One for each bar from firstBar() on: half beats behind the map's bar line, −beats to beats.
    const std::vector<int>& find();
    /// How much worse a bar would begin at another shift than at the one that was found, in nats.
    double worseBy(int bar, int shift) const;
    /// The first bar of the stretch.
    int firstBar() const { return first_; }
    /// That all bars of the stretch have.
    Meter meter() const { return meter_; }

private:
    int states() const { return 2 * meter_.beats; }
    int shiftOf(int state) const { return state - meter_.beats + 1; }
    bool hasSongMeter(std::size_t bar) const { return map_.meterOf(first_ + static_cast<int>(bar)) == meter_; }
    void forHits(std::size_t bar, int shift, auto&& visit) const;
    Pattern played(std::size_t bar, int shift) const;
    Pattern patternOf(const std::vector<int>& shifts) const;
    double score(const Pattern& pattern, std::size_t bar, int shift) const;
    std::vector<int> bestSplit() const;
    std::vector<int> bestPath(const Pattern& pattern) const;

    const MusicalMap& map_;
    std::span<const PulseHit> hits_;
    Meter meter_;
    Pattern nothing_;
    int first_;
    std::size_t bars_;
    std::vector<int> found_;
};

} // namespace lampo
