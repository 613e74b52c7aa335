#pragma once

#include "map/musical_map.h"
#include "pulse/pulse_hit.h"

#include <array>
#include <span>
#include <vector>

namespace lampo {

/// Which drum is played where in a bar of one meter: how likely each quarter of a beat is for each drum.
class Pattern {
public:
    /// What is usual: the kick on one and in the middle, the snare between, crashes on one. Common practice, no
    /// source.
    explicit Pattern(Meter meter);

    /// Adds what was played; `beats` from the bar line, any number.
    void learn(const PulseHit& hit, double beats);
    /// Natural log of how likely the hit is at that place, against a place anywhere; weighted by the hit.
    double score(const PulseHit& hit, double beats) const;

    /// Natural log of how likely all that was learned is, were each place as likely as it was played: the higher,
    /// the more bars are alike.
    double likeness() const;
    /// Adds all that another learned; of the same meter.
    void add(const Pattern& other);
    /// Takes back what add() added.
    void remove(const Pattern& other);

    /// Of its bars.
    Meter meter() const { return meter_; }

private:
    static constexpr int perBeat = 4;
    std::size_t bin(double beats) const;
    void combine(const Pattern& other, double sign);

    Meter meter_;
    std::array<std::vector<double>, voiceCount> counts_;
    std::array<double, voiceCount> sums_{};
};

/// The meter of most of the bars from the first to the last hit. `hits` ascend and are not empty.
Meter commonMeter(const MusicalMap& map, std::span<const PulseHit> hits);

} // namespace lampo
