#include "demo_kit/voices.h"

#include <array>
#include <cmath>
#include <numbers>

namespace lampo::demo {
namespace {

constexpr double twoPi = 2.0 * std::numbers::pi;

struct OnePole {
    double coefficient;
    double state = 0;
    OnePole(double hertz, int rate) : coefficient(1.0 - std::exp(-twoPi * hertz / rate)) {}
    double low(double in) { return state += coefficient * (in - state); }
    double high(double in) { return in - low(in); }
};

struct Tone {
    double hertz;    ///< where the pitch settles
    double bend;     ///< how much higher it starts
    double bendTime; ///< seconds
    double decay;    ///< seconds to 1/e
    double amplitude;
};

struct NoiseBurst {
    double lowest;  ///< Hz
    double highest; ///< Hz
    double decay;   ///< seconds to 1/e
    double amplitude;
};

/// exp(−t / constant) at successive samples, without calling exp for each.
class Decay {
public:
    Decay(double constant, int rate) : factor_(std::exp(-1.0 / (constant * rate))) {}
    double next() {
        const double now = value_;
        value_ = over() ? 0 : value_ * factor_;
        return now;
    }
    bool over() const { return value_ < 1e-8; } ///< 160 dB down

private:
    double factor_;
    double value_ = 1;
};

/// A stroke gathers over `riseTime`: a stick is quicker than a felt beater.
void addTone(std::vector<float>& out, const Tone& tone, double riseTime, int rate) {
    Decay rise(riseTime, rate), decay(tone.decay, rate), bend(tone.bendTime, rate);
    double phase = 0;
    for (float& sample : out) {
        if (decay.over())
            break;
        phase += twoPi * (tone.hertz + tone.bend * bend.next()) / rate;
        sample += static_cast<float>(tone.amplitude * (1.0 - rise.next()) * decay.next() * std::sin(phase));
    }
}

void addNoise(std::vector<float>& out, const NoiseBurst& burst, double riseTime, int rate, Random& random) {
    OnePole low(burst.highest, rate);
    OnePole high(burst.lowest, rate);
    OnePole higher(burst.lowest, rate);
    Decay rise(riseTime, rate), decay(burst.decay, rate);
    for (float& sample : out) {
        if (decay.over())
            break;
        const double noise = higher.high(high.high(low.low(random.noise())));
        const double envelope = (1.0 - rise.next()) * decay.next();
        sample += static_cast<float>(burst.amplitude * envelope * noise);
    }
}

struct Recipe {
    double seconds;
    double riseTime;
    std::vector<Tone> tones;
    std::vector<NoiseBurst> bursts;
};

Recipe cymbal(double seconds, double decay, double lowest, double base) {
    Recipe recipe{seconds, 0.0004, {}, {{lowest, 15000, decay * 0.6, 0.8}, {5000, 16000, 0.004, 0.9}}};
    constexpr std::array ratios{1.0, 1.47, 2.09, 2.56, 3.39, 4.08, 5.15, 6.63};
    for (const double ratio : ratios)
        recipe.tones.push_back({base * ratio, 0, 1, decay / std::sqrt(ratio), 0.05});
    return recipe;
}

Recipe recipeOf(Drum drum, double bright) {
    switch (drum) {
    case Drum::kick:
        return {0.7,
                0.0007,
                {{52, 120, 0.018, 0.16, 0.75}, {104, 60, 0.02, 0.06, 0.15}},
                {{700, 5000, 0.005, 1.1 * bright}}};
    case Drum::snare:
        return {0.6,
                0.0003,
                {{188, 40, 0.01, 0.09, 0.40}, {331, 30, 0.01, 0.06, 0.22}, {512, 0, 1, 0.04, 0.10}},
                {{1200, 11000, 0.085, 0.75 * bright}, {2500, 15000, 0.003, 1.2 * bright}}};
    case Drum::tomRack:
        return {1.0,
                0.0005,
                {{148, 55, 0.03, 0.24, 0.62}, {236, 40, 0.03, 0.12, 0.18}},
                {{900, 7000, 0.006, 1.0 * bright}}};
    case Drum::tomFloor:
        return {1.2,
                0.0006,
                {{86, 36, 0.035, 0.32, 0.66}, {137, 25, 0.03, 0.17, 0.18}},
                {{800, 6000, 0.007, 1.0 * bright}}};
    case Drum::hat:
        return {0.35, 0.0002, {}, {{6000, 17000, 0.045, 1.1}, {3500, 12000, 0.006, 0.7 * bright}}};
    case Drum::ride:
        return cymbal(2.0, 0.9, 3500, 610);
    case Drum::crash:
        return cymbal(2.8, 1.1, 2200, 420);
    case Drum::sticks:
        return {0.15, 0.0002, {{1850, 0, 1, 0.012, 0.5}, {2730, 0, 1, 0.008, 0.3}}, {{1500, 12000, 0.004, 0.8}}};
    }
    return {};
}

} // namespace

std::string_view name(Drum drum) {
    constexpr std::array<std::string_view, drumCount> names{"kick", "snare", "tom_rack", "tom_floor",
                                                            "hat",  "ride",  "crash",    "sticks"};
    return names[static_cast<std::size_t>(drum)];
}

std::vector<float> strike(Drum drum, double velocity, int rate, Random& random) {
    const Recipe recipe = recipeOf(drum, 0.55 + 0.45 * velocity);
    std::vector<float> out(static_cast<std::size_t>(recipe.seconds * rate));
    for (const Tone& tone : recipe.tones) {
        Tone varied = tone;
        varied.hertz *= 1.0 + 0.006 * random.gaussian();
        addTone(out, varied, recipe.riseTime, rate);
    }
    for (const NoiseBurst& burst : recipe.bursts)
        addNoise(out, burst, recipe.riseTime, rate, random);
    // The last tenth fades, so that a stroke ends without a step.
    const std::size_t fade = out.size() / 10;
    for (std::size_t i = 0; i < out.size(); ++i) {
        const std::size_t left = out.size() - 1 - i;
        out[i] *= static_cast<float>(velocity) *
                  (left < fade ? static_cast<float>(left) / static_cast<float>(fade) : 1.0F);
    }
    return out;
}

std::vector<float> bassNote(double hertz, double seconds, int rate) {
    std::vector<float> out(static_cast<std::size_t>(seconds * rate));
    for (int harmonic = 1; harmonic <= 6; ++harmonic)
        addTone(out, {hertz * harmonic, 0, 1, 0.8 / harmonic, 0.4 / harmonic}, 0.004, rate);
    const std::size_t fade = static_cast<std::size_t>(0.02 * rate);
    for (std::size_t i = 0; i < std::min(fade, out.size()); ++i)
        out[out.size() - 1 - i] *= static_cast<float>(i) / static_cast<float>(fade);
    return out;
}

} // namespace lampo::demo
