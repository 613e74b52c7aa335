#include "strokes/moments.h"

#include "strokes/statistics.h"

#include <algorithm>

namespace lampo {

Moments::Moments(std::span<const Witness> witnesses, SampleRate rate) {
    for (std::uint32_t w = 0; w < witnesses.size(); ++w) {
        const auto& candidates = witnesses[w].analysis->candidates;
        for (std::uint32_t c = 0; c < candidates.size(); ++c) {
            const Candidate& heard = candidates[c];
            events_.push_back({w,
                               c,
                               toMilliseconds(FrameCount{heard.at.frame}, rate).value,
                               heard.added,
                               heard.before,
                               weightedDecibels(heard.added, witnesses[w].weights),
                               {},
                               false});
        }
    }
    std::stable_sort(events_.begin(), events_.end(), [](const Event& a, const Event& b) { return a.at < b.at; });
}

} // namespace lampo
