#pragma once

#include "pipeline/outcome.h"
#include "support/random_kit.h"

#include <filesystem>
#include <memory>
#include <optional>

namespace lampo::test {

/// What Lampo makes of a random kit when it is told tempo, meter and grid and nothing else.
struct AnalysedKit {
    Session session;
    Analyses analyses;
    std::shared_ptr<const Outcome> outcome;
};
AnalysedKit analyseKit(const RandomKit& kit);
/// The same from a folder that the files of the kit were written to; other files there are mics as well.
AnalysedKit analyseKit(const RandomKit& kit, const std::filesystem::path& folder);
/// Seams placed by what they sound like.
void searchSeamsOf(AnalysedKit& heard);
void writeKit(const RandomKit& kit, const std::filesystem::path& folder);
/// Where a frame of the take sounds in the result; outside fades where it does.
std::optional<std::int64_t> printedAt(const Plan& plan, std::int64_t source);
/// It is the highest-ranked drum's of the strokes on its line: the one that lands.
bool leads(const RandomKit& kit, const TrueStroke& stroke);

/// A share of something, by count.
struct Share {
    std::size_t of = 0;
    std::size_t all = 0;
    std::optional<double> value() const {
        return all == 0 ? std::nullopt : std::optional(static_cast<double>(of) / static_cast<double>(all));
    }
    void add(bool counts) {
        ++all;
        of += counts ? 1 : 0;
    }
    Share& operator+=(const Share& other) {
        of += other.of;
        all += other.all;
        return *this;
    }
};

/// How well a kit was heard. Main strokes: those of kick, snare and toms that are neither ghosts nor graces. What a
/// dropout swallowed counts nowhere.
struct EarFigures {
    Share found;         ///< main strokes with a hit of their drum's guide within 10 ms
    Share precise;       ///< strokes told of kick, snare and toms that are true
    Share ghosts;        ///< found within 10 ms
    Share audibleGhosts; ///< of those that rise above what their mic hears by 3 dB in some band
    double spread = 0;   ///< ms, 5th to 95th percentile of the dates of main strokes, the worst drum's
    double ghostSpread = 0;
    Share offBehindHat; ///< more than 3 ms off (the drum's median taken out), of those with a hat ahead
    Share late;         ///< later than the −20 dB point
    Share landed;       ///< leading main strokes within 1 ms of their line in the plan
    Share landedGhosts;
};
EarFigures figuresOf(const RandomKit& kit, const AnalysedKit& heard);

/// F-measures within 10 ms of one mic, over the kit's close mics: ours, and aubio's hfc with each mic's best
/// threshold found by search.
struct AgainstAubio {
    double ours = 0, aubio = 0;
};
AgainstAubio againstAubio(const RandomKit& kit, const AnalysedKit& heard);

} // namespace lampo::test
