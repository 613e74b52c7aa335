#pragma once

#include "strokes/strokes_so_far.h"

#include <array>
#include <cstddef>
#include <vector>

namespace lampo {

/// How many features an event has.
inline constexpr std::size_t strokeFeatureCount = 32;
/// What speaks for and against an event's being a stroke of its mic's drum; see the list in stroke_features.cpp.
using StrokeFeatures = std::array<float, strokeFeatureCount>;

/// Reads them, once the strokes so far are known. Pure.
class FeatureReader {
public:
    /// `known` must outlive it and stay as it is.
    explicit FeatureReader(const StrokesSoFar& known);

    /// Of an event of a close mic.
    StrokeFeatures of(std::size_t event) const;

private:
    struct Neighbours;
    /// dB of an event against its mic's drum's strong strokes, whatever the preamplifiers.
    double againstStrong(const Event& event) const;
    Neighbours neighboursOf(std::size_t event) const;

    const StrokesSoFar& known_;
    std::vector<double> bleed_; ///< for each witness, dBFS of the loudest that others' strong strokes send there
    std::vector<std::vector<std::size_t>> struck_; ///< for each witness, its strokes in order of time
    std::vector<std::vector<std::size_t>> heard_;  ///< for each witness, its events in order of time
};

} // namespace lampo
