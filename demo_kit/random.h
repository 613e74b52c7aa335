#pragma once

#include <random>

namespace lampo::demo {

/// The same numbers on every machine: the standard leaves its distributions to the library, so these are our own.
class Random {
public:
    explicit Random(std::uint64_t seed) : engine_(seed) {}

    double uniform(); ///< [0, 1)
    double between(double low, double high) { return low + (high - low) * uniform(); }
    double gaussian(); ///< mean 0, deviation 1
    float noise() { return static_cast<float>(2.0 * uniform() - 1.0); }

private:
    std::mt19937_64 engine_;
};

} // namespace lampo::demo
