// The features of every event of kits drawn at random, and what it is in truth, for bench/train_trees.py. Floats:
// how many a line has, then lines: seed, 1 for a stroke of its mic's drum, mic, the features.
//     lampo-features KITS FIRST_SEED [--harsher] [--recorded] > FILE
#include "strokes/stroke_features.h"

#include "kits_wanted.h"
#include "on_all_cores.h"
#include "support/labelled_events.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <mutex>
#include <string>
#include <vector>

namespace {

using namespace lampo;
using namespace lampo::test;

struct Line {
    float seed, isStroke, mic;
    StrokeFeatures features;
};

std::vector<Line> linesOf(std::uint64_t seed, const RandomKit& kit) {
    const LabelledKit labelled = labelledKit(kit);
    const FeatureReader features(labelled.known);
    std::vector<Line> lines;
    for (std::size_t e = 0; e < labelled.isStroke.size(); ++e)
        if (labelled.isLabelled(e))
            lines.push_back({static_cast<float>(seed), *labelled.isStroke[e] ? 1.0F : 0.0F,
                             static_cast<float>(labelled.known.moments.events()[e].witness), features.of(e)});
    return lines;
}

} // namespace

int main(int argc, char** argv) {
    std::vector<std::string> arguments(argv + 1, argv + argc);
    const KitsWanted kits(arguments);
    if (arguments.size() != 2)
        return std::fprintf(stderr, "lampo-features KITS FIRST_SEED [--harsher] [--recorded] > FILE\n"), 2;
    const std::uint64_t count = std::strtoull(arguments[0].c_str(), nullptr, 10);
    const std::uint64_t first = std::strtoull(arguments[1].c_str(), nullptr, 10);
    constexpr float width = sizeof(Line) / sizeof(float);
    std::fwrite(&width, sizeof width, 1, stdout);
    std::mutex writing;
    onAllCores(count, [&](std::uint64_t i) {
        const std::uint64_t seed = first + i;
        const auto lines = linesOf(seed, kits.kit(seed));
        const std::scoped_lock lock(writing);
        std::fwrite(lines.data(), sizeof(Line), lines.size(), stdout);
        std::fflush(stdout);
    });
}
