// How well kits drawn at random are heard at default settings: one line for each kit, then the table that is kept
// in docs/ears.md.     lampo-ears [kits] [first seed] [--aubio] [--harsher] [--recorded]
#include "support/ears.h"
#include "kits_wanted.h"
#include "on_all_cores.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <mutex>
#include <string>
#include <vector>

namespace {

using namespace lampo::test;

struct Row {
    std::uint64_t seed = 0;
    bool loudest = false;
    EarFigures figures;
    AgainstAubio aubio;
};

std::string inPercent(const Share& share) {
    char text[16];
    const auto value = share.value();
    std::snprintf(text, sizeof text, value ? "%5.1f" : "    –", value ? 100 * *value : 0);
    return text;
}

void printRow(const Row& row, const std::string& what) {
    const EarFigures& f = row.figures;
    std::printf("%4llu found %s true %s ghosts %s spread %5.2f ghosts %5.2f behind hats %s late %s landed %s "
                "ghosts %s  %s\n",
                static_cast<unsigned long long>(row.seed), inPercent(f.found).c_str(), inPercent(f.precise).c_str(),
                inPercent(f.ghosts).c_str(), f.spread, f.ghostSpread, inPercent(f.offBehindHat).c_str(),
                inPercent(f.late).c_str(), inPercent(f.landed).c_str(), inPercent(f.landedGhosts).c_str(),
                what.c_str());
    std::fflush(stdout);
}

/// All kits together, the mean of the kits, and the worst kit.
void printShare(const char* name, const std::vector<Row>& rows, Share EarFigures::*share, bool moreIsBetter) {
    Share all;
    std::vector<std::pair<double, std::uint64_t>> values;
    for (const Row& row : rows) {
        all += row.figures.*share;
        if (const auto value = (row.figures.*share).value())
            values.emplace_back(*value, row.seed);
    }
    if (values.empty())
        return;
    std::sort(values.begin(), values.end());
    if (!moreIsBetter)
        std::reverse(values.begin(), values.end());
    const auto at = [&](double part) {
        return values[static_cast<std::size_t>(part * static_cast<double>(values.size() - 1))];
    };
    std::printf("| %-34s | %6.4f | %6.4f | %6.4f | %6.4f (seed %llu) |\n", name, all.value().value_or(0),
                at(0.5).first, at(0.05).first, at(0).first, static_cast<unsigned long long>(at(0).second));
}

void printSpread(const char* name, const std::vector<Row>& rows, double EarFigures::*spread) {
    std::vector<std::pair<double, std::uint64_t>> values;
    for (const Row& row : rows)
        if (row.figures.*spread > 0)
            values.emplace_back(row.figures.*spread, row.seed);
    if (values.empty())
        return;
    std::sort(values.rbegin(), values.rend());
    double sum = 0;
    for (const auto& value : values)
        sum += value.first;
    const auto at = [&](double part) {
        return values[static_cast<std::size_t>(part * static_cast<double>(values.size() - 1))];
    };
    std::printf("| %-34s | %6.3f | %6.3f | %6.3f | %6.3f (seed %llu) |\n", name,
                sum / static_cast<double>(values.size()), at(0.5).first, at(0.05).first, at(0).first,
                static_cast<unsigned long long>(at(0).second));
}

} // namespace

int main(int argc, char** argv) {
    std::vector<std::string> arguments(argv + 1, argv + argc);
    const bool withAubio = std::erase(arguments, "--aubio") > 0;
    const lampo::KitsWanted kits(arguments);
    const std::uint64_t count = arguments.empty() ? 40 : std::strtoull(arguments[0].c_str(), nullptr, 10);
    const std::uint64_t first = arguments.size() < 2 ? 1 : std::strtoull(arguments[1].c_str(), nullptr, 10);
    std::vector<Row> rows(count);
    std::mutex printing;
    lampo::onAllCores(count, [&](std::uint64_t i) {
        const RandomKit kit = kits.kit(first + i);
        if (kit.mics.empty())
            std::exit((std::fprintf(stderr, "fluidsynth and the soundfonts are needed\n"), 1));
        const AnalysedKit heard = analyseKit(kit);
        Row& row = rows[i];
        row = {first + i, kit.loudest, figuresOf(kit, heard), {}};
        if (withAubio)
            row.aubio = againstAubio(kit, heard);
        const std::scoped_lock lock(printing);
        printRow(row, kit.what);
    });

    std::vector<Row> loudest, others;
    for (const Row& row : rows)
        (row.loudest ? loudest : others).push_back(row);
    std::printf("\n%zu kits, %zu of them in the loudest rooms\n", rows.size(), loudest.size());
    std::printf("| %-34s | all    | median | worst 5 %% | worst |\n| --- | --- | --- | --- | --- |\n", "measure");
    printShare("main strokes found within 10 ms", rows, &EarFigures::found, true);
    printShare("precision", others, &EarFigures::precise, true);
    printShare("precision, loudest bleed", loudest, &EarFigures::precise, true);
    printShare("ghost notes found", rows, &EarFigures::ghosts, true);
    printShare("ghost notes that stand out by 3 dB", rows, &EarFigures::audibleGhosts, true);
    printSpread("spread of dates, ms", rows, &EarFigures::spread);
    printSpread("spread of ghosts' dates, ms", rows, &EarFigures::ghostSpread);
    printShare("more than 3 ms off behind a hat", rows, &EarFigures::offBehindHat, false);
    printShare("later than the −20 dB point", rows, &EarFigures::late, false);
    printShare("landed within 1 ms", rows, &EarFigures::landed, true);
    printShare("ghost notes landed within 1 ms", rows, &EarFigures::landedGhosts, true);
    if (withAubio) {
        AgainstAubio sum;
        for (const Row& row : rows) {
            sum.ours += row.aubio.ours / static_cast<double>(rows.size());
            sum.aubio += row.aubio.aubio / static_cast<double>(rows.size());
        }
        std::printf("F within 10 ms, mean of drums and kits: ours %.3f, aubio hfc with its best thresholds %.3f\n",
                    sum.ours, sum.aubio);
    }
}
