#pragma once

#include "onsets/candidate.h"

#include <cmath>
#include <memory>
#include <vector>

namespace lampo::test {

/// Candidates that a test made up, as if a mic had heard them: strong hits lie at −10 dBFS, and as drums have a
/// body, most of the power lies low, where it is not given.
inline std::shared_ptr<const MicAnalysis> heardAs(std::vector<Candidate> candidates) {
    for (Candidate& candidate : candidates) {
        if (candidate.added != BandEnergies{})
            continue;
        const auto power = static_cast<float>(std::pow(10.0, (candidate.level.value - 10) / 10));
        candidate.added = {0.5F * power, 0.3F * power, 0.15F * power, 0.05F * power};
    }
    return std::make_shared<const MicAnalysis>(MicAnalysis{std::move(candidates), {-10}, {}});
}

} // namespace lampo::test
