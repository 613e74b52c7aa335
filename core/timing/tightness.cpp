#include "timing/tightness.h"

#include <cmath>

namespace lampo {

Milliseconds deviation(const Landing& landing, Moment moment, SampleRate rate) {
    const ResultFrame at = moment == Moment::asPlayed ? asResult(landing.played) : landing.at;
    return landing.line ? toMilliseconds(at - asResult(landing.line->frame), rate) : Milliseconds{0};
}

Tightness tightness(std::span<const Landing> landings, Moment moment, SampleRate rate) {
    Tightness result;
    double sum = 0, squares = 0;
    std::size_t near = 0;
    for (const Landing& landing : landings) {
        if (!landing.line)
            continue;
        const double late = deviation(landing, moment, rate).value;
        ++result.hits;
        sum += late;
        squares += late * late;
        near += std::abs(late) <= 5.0 ? 1 : 0;
        if (std::abs(late) > std::abs(result.worst.value))
            result.worst = {late};
    }
    if (result.hits == 0)
        return result;
    const auto count = static_cast<double>(result.hits);
    result.mean = {sum / count};
    result.spread = {std::sqrt(std::max(0.0, squares / count - result.mean.value * result.mean.value))};
    result.withinFive = static_cast<double>(near) / count;
    return result;
}

} // namespace lampo
