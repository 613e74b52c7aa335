#include "deliver/summary_json.h"

#include <cmath>

namespace lampo {
namespace {

using nlohmann::json;

double rounded(double value, double step) {
    return std::round(value / step) * step;
}

json figuresJson(const Tightness& figures) {
    return {{"mean_ms", rounded(figures.mean.value, 0.001)},
            {"spread_ms", rounded(figures.spread.value, 0.001)},
            {"worst_ms", rounded(figures.worst.value, 0.001)},
            {"within_5_ms", rounded(figures.withinFive, 0.0001)}};
}

json countsJson(const std::array<std::size_t, proofKindNames.count>& counts) {
    json out = json::object();
    for (std::size_t kind = 0; kind < counts.size(); ++kind)
        if (counts[kind] > 0)
            out[std::string(proofKindNames.words[kind])] = counts[kind];
    return out;
}

} // namespace

json summaryJson(const ProofSummary& summary) {
    json drums = json::array();
    for (const DrumFigures& drum : summary.drums)
        drums.push_back({{"drum", name(drum.voice)},
                         {"hits", drum.after.hits},
                         {"before", figuresJson(drum.before)},
                         {"after", figuresJson(drum.after)}});
    return {{"hits", summary.hits},
            {"seams", summary.seams},
            {"patches", summary.patches},
            {"takes", summary.takes},
            {"drums", drums},
            {"open", countsJson(summary.open)},
            {"fine", countsJson(summary.fine)},
            {"later", countsJson(summary.later)}};
}

} // namespace lampo
