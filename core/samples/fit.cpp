#include "samples/fit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace lampo {
namespace {

constexpr double lowest = 500;       ///< Hz: up to here polarity is heard as loudness; common practice, no source
constexpr Milliseconds sincReach{4}; ///< of the filter that takes them
constexpr Milliseconds comparedFor{25}; ///< of an attack; common practice, no source

double productAt(std::span<const float> recording, std::span<const float> real, std::int64_t at) {
    const std::int64_t begin = std::max<std::int64_t>(0, -at);
    const std::int64_t end = std::min<std::int64_t>(std::ssize(recording), std::ssize(real) - at);
    double sum = 0;
    for (std::int64_t i = begin; i < end; ++i)
        sum += double{recording[static_cast<std::size_t>(i)]} * real[static_cast<std::size_t>(i + at)];
    return sum;
}

/// Of what of `sound` meets the other one.
double energyOf(std::span<const float> sound, std::int64_t begin, std::int64_t end) {
    double sum = 0;
    for (std::int64_t i = std::max<std::int64_t>(0, begin); i < std::min<std::int64_t>(std::ssize(sound), end); ++i)
        sum += std::pow(double{sound[static_cast<std::size_t>(i)]}, 2);
    return sum;
}

} // namespace

OneShot oneShotOf(std::span<const float> recording, SampleRate rate) {
    float peak = 0;
    for (const float sample : recording)
        peak = std::max(peak, std::abs(sample));
    const auto first = std::find_if(recording.begin(), recording.end(),
                                    [&](float sample) { return peak > 0 && std::abs(sample) >= 0.01F * peak; });
    OneShot shot;
    shot.attack = first == recording.end() ? 0 : first - recording.begin();
    const std::int64_t length = shot.attack + toFrames(comparedFor, rate).frames;
    shot.sound.assign(recording.begin(), recording.begin() + std::min<std::int64_t>(std::ssize(recording), length));
    std::fill_n(shot.sound.begin(), shot.attack, 0.0F); // a rustle before it is no part of it
    shot.lows = lowsOf(shot.sound, rate);
    return shot;
}

std::vector<float> lowsOf(std::span<const float> sound, SampleRate rate) {
    const std::int64_t reach = toFrames(sincReach, rate).frames;
    std::vector<double> taps;
    double sum = 0;
    for (std::int64_t i = -reach; i <= reach; ++i) {
        const double x = 2 * lowest * static_cast<double>(i) / rate.hz;
        const double sinc = i == 0 ? 1 : std::sin(std::numbers::pi * x) / (std::numbers::pi * x);
        const double window =
            0.5 + 0.5 * std::cos(std::numbers::pi * static_cast<double>(i) / static_cast<double>(reach));
        taps.push_back(sinc * window);
        sum += taps.back();
    }
    std::vector<float> lows(sound.size());
    for (std::int64_t i = 0; i < std::ssize(sound); ++i) {
        double value = 0;
        for (std::int64_t tap = std::max(-reach, -i); tap <= std::min(reach, std::ssize(sound) - 1 - i); ++tap)
            value += taps[static_cast<std::size_t>(tap + reach)] * sound[static_cast<std::size_t>(i + tap)];
        lows[static_cast<std::size_t>(i)] = static_cast<float>(value / sum);
    }
    return lows;
}

std::optional<Fit> fitOf(const OneShot& recording, std::span<const float> real, std::int64_t from, std::int64_t to,
                         std::optional<bool> polarity, SampleRate rate) {
    const std::vector<float> realLow = lowsOf(real, rate);
    const std::int64_t length = std::ssize(recording.sound);
    const double own = energyOf(recording.sound, 0, length);
    std::vector<double> products;
    for (std::int64_t at = from; at <= to; ++at)
        products.push_back(productAt(recording.sound, real, at));
    std::vector<std::int64_t> places(products.size());
    for (std::size_t i = 0; i < places.size(); ++i)
        places[i] = from + static_cast<std::int64_t>(i);
    const auto productOf = [&](std::int64_t at) {
        const double product = products[static_cast<std::size_t>(at - from)];
        return !polarity ? std::abs(product) : *polarity ? -product : product;
    };
    std::stable_sort(places.begin(), places.end(),
                     [&](std::int64_t a, std::int64_t b) { return productOf(a) > productOf(b); });
    std::optional<Fit> first;
    for (const std::int64_t at : places) {
        const double product = productOf(at), its = energyOf(real, at, at + length);
        if (product <= 0 || own * its < 1e-12)
            break;
        const bool inverted = polarity ? *polarity : products[static_cast<std::size_t>(at - from)] < 0;
        const Fit fit{at, inverted, product / std::sqrt(own * its)};
        first = first ? first : fit;
        if (fit.likeness < first->likeness / 2)
            break; // nothing that is alike adds up
        if ((inverted ? -1 : 1) * productAt(recording.lows, realLow, at) >= 0)
            return fit;
    }
    return first;
}

std::optional<Fit> nearestFit(const OneShot& recording, std::span<const float> real, std::int64_t usual,
                              std::int64_t reach, std::int64_t farthest, bool inverted, SampleRate rate) {
    const std::vector<float> realLow = lowsOf(real, rate);
    const double sign = inverted ? -1 : 1;
    const std::int64_t from = usual - farthest - reach, to = usual + farthest + reach;
    std::vector<double> products; // negative where the lows are against each other
    for (std::int64_t at = from; at <= to; ++at) {
        const double product = sign * productAt(recording.sound, real, at);
        products.push_back(sign * productAt(recording.lows, realLow, at) >= 0 ? product : -1);
    }
    const auto productOf = [&](std::int64_t at) { return products[static_cast<std::size_t>(at - from)]; };
    for (std::int64_t away = 0; away <= farthest; ++away)
        for (const std::int64_t at : {usual + away, usual - away}) {
            const auto first = products.begin() + (at - reach - from);
            if (productOf(at) <= 0 || *std::max_element(first, first + 2 * reach + 1) > productOf(at))
                continue;
            const std::int64_t length = std::ssize(recording.sound);
            const double own = energyOf(recording.sound, 0, length), its = energyOf(real, at, at + length);
            return Fit{at, inverted, productOf(at) / std::sqrt(std::max(own * its, 1e-12))};
        }
    return std::nullopt;
}

} // namespace lampo
