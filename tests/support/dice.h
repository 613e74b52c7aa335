#pragma once

#include <algorithm>
#include <cstdint>
#include <random>

namespace lampo::test {

/// Draws from one seed.
class Dice {
public:
    explicit Dice(std::uint64_t seed) : engine_(seed) {}
    double between(double low, double high) { return std::uniform_real_distribution<>(low, high)(engine_); }
    double around(double mean, double deviation, double most) {
        return std::clamp(std::normal_distribution<>(mean, deviation)(engine_), mean - most, mean + most);
    }
    bool chance(double share) { return between(0, 1) < share; }
    int upTo(int last) { return std::uniform_int_distribution<>(0, last)(engine_); }
    std::mt19937_64& engine() { return engine_; }

private:
    std::mt19937_64 engine_;
};

} // namespace lampo::test
