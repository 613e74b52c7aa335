// What the seams of kits drawn at random sound like: cut at the anchor as by hand, by rule, and placed by the
// search. One line for each kit, then the table that is kept in docs/seams.md.     lampo-seams [kits] [first seed]
// [loose] [borrow or stretch]
#include "edits/edit.h"
#include "on_all_cores.h"
#include "support/ears.h"
#include "support/seam_sound.h"
#include "support/temp_folder.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <cstdlib>
#include <mutex>

using namespace lampo;
using namespace lampo::test;

namespace {

struct Figures {
    std::vector<SeamSound> seams;
    FollowerFigures followers;

    /// The part of the seams whose measure is above `limit`, in per cent.
    double over(double limit, auto&& measure) const {
        const auto count =
            std::count_if(seams.begin(), seams.end(), [&](const SeamSound& s) { return measure(s) > limit; });
        return seams.empty() ? 0 : 100.0 * static_cast<double>(count) / static_cast<double>(seams.size());
    }
    double percentile(double share, auto&& measure) const {
        std::vector<double> values;
        for (const SeamSound& seam : seams)
            values.push_back(measure(seam));
        std::sort(values.begin(), values.end());
        return values.empty() ? 0
                              : values[static_cast<std::size_t>(share * static_cast<double>(values.size() - 1))];
    }
    Figures& operator+=(const Figures& other) {
        seams.insert(seams.end(), other.seams.begin(), other.seams.end());
        followers.swallowed += other.followers.swallowed;
        followers.doubled += other.followers.doubled;
        return *this;
    }
};

double dipOf(const SeamSound& seam) {
    return seam.dip;
}
double bumpOf(const SeamSound& seam) {
    return seam.bump;
}
double clickOf(const SeamSound& seam) {
    return seam.click;
}
double levelOf(const SeamSound& seam) {
    return seam.level;
}
double ringOf(const SeamSound& seam) {
    return seam.ring.value_or(0);
}

enum Way { atAnchor, byRule, bySearch, ways };

/// One kit's seams in each way.
std::array<Figures, ways> figuresOf(const RandomKit& kit, Fill fill) {
    const TempFolder folder;
    writeKit(kit, folder.path());
    AnalysedKit analysed = analyseKit(kit, folder.path());
    const auto measured = [&](const Session& session, const Outcome& outcome) {
        return Figures{soundsOfSeams(session, outcome.plan), followersOf(kit, *outcome.plan)};
    };
    std::array<Figures, ways> all;
    Session plain = analysed.session;
    for (const Edit& edit : {Edit{SetLeadIn{{0}}}, Edit{SetFade{{5}}}, Edit{SetFadeCurve{FadeCurve::equalGain}}})
        plain = *edited(plain, edit);
    all[atAnchor] = measured(plain, *outcomeOf(plain, analysed.analyses));
    analysed.session = *edited(analysed.session, SeamEdit{SetFill{fill}});
    analysed.outcome = outcomeOf(analysed.session, analysed.analyses, analysed.outcome.get());
    all[byRule] = measured(analysed.session, *analysed.outcome);
    searchSeamsOf(analysed);
    all[bySearch] = measured(analysed.session, *analysed.outcome);
    return all;
}

struct Kit {
    std::uint64_t seed = 0;
    std::array<Figures, ways> figures;
};

void printRow(const char* name, const std::array<Figures, ways>& all, const char* format, auto&& value) {
    std::printf("| %-44s |", name);
    for (const Figures& figures : all) {
        std::printf(" ");
        std::printf(format, value(figures));
        std::printf(" |");
    }
    std::printf("\n");
}

void printTable(const std::vector<Kit>& kits) {
    std::array<Figures, ways> all;
    std::array<double, ways> worst{};
    for (const Kit& kit : kits)
        for (std::size_t way = 0; way < ways; ++way) {
            all[way] += kit.figures[way];
            worst[way] = std::max(worst[way], kit.figures[way].over(4, dipOf));
        }
    std::printf("\n%zu kits, %zu seams\n", kits.size(), all[bySearch].seams.size());
    std::printf("| measure | at the anchor | by rule | by search |\n| --- | --- | --- | --- |\n");
    printRow("dips over 4 dB, per cent of seams", all, "%.2f", [](const Figures& f) { return f.over(4, dipOf); });
    std::printf("| the same in the worst kit | %.2f | %.2f | %.2f |\n", worst[atAnchor], worst[byRule],
                worst[bySearch]);
    printRow("deepest dip, dB", all, "%.1f", [](const Figures& f) { return f.percentile(1, dipOf); });
    printRow("bumps over 3 dB, per cent of seams", all, "%.2f", [](const Figures& f) { return f.over(3, bumpOf); });
    printRow("steepest step against the sources'", all, "%.2f",
             [](const Figures& f) { return f.percentile(1, clickOf); });
    printRow("2 ms more than 3 dB off, per cent of seams", all, "%.1f",
             [](const Figures& f) { return f.over(3, levelOf); });
    printRow("change added to what rings, dB, median", all, "%.2f",
             [](const Figures& f) { return f.percentile(0.5, ringOf); });
    printRow("the same, worst tenth", all, "%.2f", [](const Figures& f) { return f.percentile(0.9, ringOf); });
    printRow("hats and cymbals swallowed", all, "%zu", [](const Figures& f) { return f.followers.swallowed.of; });
    printRow("hats and cymbals heard twice", all, "%zu", [](const Figures& f) { return f.followers.doubled.of; });
    std::printf("of %zu hats and cymbals\n", all[bySearch].followers.swallowed.all);
}

} // namespace

int main(int argc, char** argv) {
    const std::uint64_t count = argc > 1 ? std::strtoull(argv[1], nullptr, 10) : 20;
    const std::uint64_t first = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
    const double loose = argc > 3 ? std::strtod(argv[3], nullptr) : 1;
    const Fill fill = argc > 4 ? fillNames.named(argv[4]).value_or(Fill::borrow) : Fill::borrow;
    std::vector<Kit> kits(count);
    std::mutex printing;
    onAllCores(count, [&](std::uint64_t i) {
        const RandomKit kit = randomKit(first + i, loose);
        if (kit.mics.empty())
            std::exit((std::fprintf(stderr, "fluidsynth and the soundfonts are needed\n"), 1));
        kits[i] = {first + i, figuresOf(kit, fill)};
        const auto& [anchor, rule, search] = kits[i].figures;
        const std::scoped_lock lock(printing);
        std::printf("%4llu dips over 4 dB: anchor %5.1f rule %5.1f search %5.1f %%, torn %zu, %zu, %zu, steepest "
                    "step %.2f  %s\n",
                    static_cast<unsigned long long>(first + i), anchor.over(4, dipOf), rule.over(4, dipOf),
                    search.over(4, dipOf), anchor.followers.swallowed.of + anchor.followers.doubled.of,
                    rule.followers.swallowed.of + rule.followers.doubled.of,
                    search.followers.swallowed.of + search.followers.doubled.of, search.percentile(1, clickOf),
                    kit.what.c_str());
        std::fflush(stdout);
    });
    printTable(kits);
}
