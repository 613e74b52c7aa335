#pragma once

#include "base/position.h"

#include <span>

namespace lampo {

/// Where frame `k` of a fade stands between its begin (0) and its end (1): in the middle of its sample.
double alongFade(std::int64_t k, FrameCount length);

/// How much two sides are alike over several mics, each counting alike however loud it was recorded; silent mics
/// say nothing.
class MeanCorrelation {
public:
    /// One mic's two sides, of equal length.
    void add(std::span<const float> a, std::span<const float> b);
    /// −1 to 1; 0 where all is silent.
    double value() const { return sounding_ > 0 ? sum_ / sounding_ : 0; }

private:
    double sum_ = 0;
    int sounding_ = 0;
};

} // namespace lampo
