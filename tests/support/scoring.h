#pragma once

#include <cstdint>
#include <vector>

namespace lampo::test {

struct Score {
    std::size_t matched = 0;
    double f = 0;                     ///< F-measure
    double medianError = 0;           ///< frames, absolute
    double lateShare = 0;             ///< of the matched: later than `lateFrom`
    std::vector<std::int64_t> errors; ///< found − true, of the matched, ascending
};

/// One-to-one matching within ±tolerance frames, as the MIREX onset task and mir_eval (Raffel et al., ISMIR 2014)
/// define it; on a line, taking the earliest partner for each in order gives the largest matching.
Score score(std::vector<std::int64_t> found, std::vector<std::int64_t> truth, std::int64_t tolerance,
            std::int64_t lateFrom = 24);

/// Share of the errors later than 0.5 ms at 48 kHz.
double lateShare(const std::vector<std::int64_t>& errors);
/// Standard deviation, frames.
double spread(const std::vector<std::int64_t>& errors);

} // namespace lampo::test
