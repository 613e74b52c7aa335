// What the proof finds in kits drawn at random: places told of clean edits, seams that sound bad with yesterday's
// rule, and faults planted into prints, by kind and size. The table is kept in docs/proof.md.
//     lampo-proof [kits] [first seed] [clean]
#include "proof/proof.h"
#include "edits/edit.h"
#include "support/built_kit.h"
#include "support/ears.h"
#include "support/planted_faults.h"
#include "support/seam_sound.h"
#include "support/temp_folder.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <cstdlib>
#include <map>

using namespace lampo;
using namespace lampo::test;

namespace {

using Counts = std::array<std::size_t, proofKindNames.count>;

struct Recall {
    std::vector<std::pair<double, bool>> faults;  ///< size, and whether it was told of
    std::map<ProofKind, std::size_t> calledOther; ///< what was told instead
};

struct Totals {
    Counts clean{};        ///< places in clean edits
    std::size_t seams = 0; ///< of those
    Share bad;             ///< seams that the measures call bad, told of
    std::array<Recall, proofKindNames.count> recall;
    std::size_t falseInPrints = 0; ///< places in planted prints that no fault explains
};

std::vector<KnownStroke> strokesIn(const RandomKit& kit, const Session& session, const Plan& plan) {
    std::vector<KnownStroke> known;
    for (const TrueStroke& stroke : kit.strokes)
        if (const auto at = printedAt(plan, stroke.at)) {
            const auto mic = session.micNamed(kit.drums[stroke.drum]);
            const bool main = stroke.drum < kit.landed && !stroke.ghost && !stroke.grace && mic;
            known.push_back({*at, mic.value_or(MicIndex{0}).value, main});
        }
    std::sort(known.begin(), known.end(), [](const KnownStroke& a, const KnownStroke& b) { return a.at < b.at; });
    return known;
}

void addClean(const Proof& proof, std::size_t seams, Totals& totals) {
    for (const ProofPlace& place : proof.places)
        ++totals.clean[static_cast<std::size_t>(place.kind)];
    totals.seams += seams;
}

/// Cut at the anchor as by hand.
void addBadSeams(const AnalysedKit& analysed, Totals& totals) {
    Session plain = analysed.session;
    for (const Edit& edit : {Edit{SetLeadIn{{0}}}, Edit{SetFade{{5}}}, Edit{SetFadeCurve{FadeCurve::equalGain}}})
        plain = *edited(plain, edit);
    const auto outcome = outcomeOf(plain, analysed.analyses);
    ProofMemory memory;
    const auto proof = proofOf(plain, *outcome, memory, {});
    if (!proof)
        std::exit((std::fprintf(stderr, "%s\n", proof.error().sentence.c_str()), 1));
    for (const SeamSound& seam : soundsOfSeams(plain, outcome->plan)) {
        if (seam.dip <= 4 && seam.bump <= 3 && seam.click <= 1.5)
            continue;
        totals.bad.add(std::any_of(proof->places.begin(), proof->places.end(), [&](const ProofPlace& place) {
            return !place.where.intersected(seam.range).empty() &&
                   (place.kind == ProofKind::dip || place.kind == ProofKind::click ||
                    place.kind == ProofKind::swallowedRing);
        }));
    }
}

void addPlanted(const AnalysedKit& analysed, const std::vector<KnownStroke>& strokes, const Proof& clean,
                std::uint64_t seed, Totals& totals) {
    const KitPrint print = printOf(analysed.session, *analysed.outcome);
    for (const ProofKind kind : plantedKinds) {
        Dice dice(seed * 100 + static_cast<std::uint64_t>(kind));
        KitPrint spoiled = print;
        const auto faults = plant(spoiled, kind, analysed.session, strokes, dice);
        const TempFolder folder;
        for (MicIndex mic; mic < spoiled.size(); ++mic)
            writeAudio(folder / (analysed.session.mics[mic].stem + ".wav"), spoiled[mic], SampleFormat::wav24,
                       analysed.session.rate);
        const auto proof = proofOfPrint(analysed.session, *analysed.outcome, folder.path(), {});
        if (!proof)
            std::exit((std::fprintf(stderr, "%s\n", proof.error().sentence.c_str()), 1));
        Recall& recall = totals.recall[static_cast<std::size_t>(kind)];
        for (const PlantedFault& fault : faults) {
            const auto tells = [&](const ProofPlace& place) {
                return tellsOf(place, fault, analysed.session.rate);
            };
            const bool found = std::any_of(proof->places.begin(), proof->places.end(), tells);
            recall.faults.emplace_back(fault.size, found);
            if (!found && std::getenv("LAMPO_PROOF_TELL")) {
                double rest = 0, wanted = 0;
                for (std::int64_t i = fault.where.begin.frame; i < fault.where.end.frame; ++i)
                    for (MicIndex m; m < print.size(); ++m)
                        if (fault.mics & onlyMic(m)) {
                            rest += std::pow(double{spoiled[m][i]} - print[m][i], 2);
                            wanted += std::pow(double{print[m][i]}, 2);
                        }
                std::printf("      rest %g of %g\n", rest, wanted);
                std::printf("      missed %s of %.1f at %.3f s, %.0f ms, mics %llx; told:",
                            std::string(proofKindNames.of(kind)).c_str(), fault.size,
                            static_cast<double>(fault.where.begin.frame) / analysed.session.rate.hz,
                            toMilliseconds(fault.where.length(), analysed.session.rate).value,
                            static_cast<unsigned long long>(fault.mics));
                for (const ProofPlace& place : proof->places)
                    if (!place.where.intersected(fault.where).empty() && place.kind != ProofKind::map)
                        std::printf(" [%s %.1f at %.3f + %.0f ms, mics %llx]",
                                    std::string(proofKindNames.of(place.kind)).c_str(), place.size,
                                    static_cast<double>(place.where.begin.frame) / analysed.session.rate.hz,
                                    toMilliseconds(place.where.length(), analysed.session.rate).value,
                                    static_cast<unsigned long long>(place.mics));
                std::printf("\n");
            }
            if (!found) {
                ProofKind other = ProofKind::map; // nothing
                for (const ProofPlace& place : proof->places) {
                    PlantedFault renamed = fault;
                    renamed.kind = place.kind;
                    if (place.kind != ProofKind::map && tellsOf(place, renamed, analysed.session.rate)) {
                        other = place.kind;
                        break;
                    }
                }
                ++recall.calledOther[other];
            }
        }
        for (const ProofPlace& place : proof->places) {
            const bool explained =
                std::any_of(faults.begin(), faults.end(),
                            [&](const PlantedFault& fault) {
                                return !place.where
                                            .intersected({fault.where.begin - FrameCount{4800},
                                                          fault.where.end + FrameCount{4800}})
                                            .empty();
                            }) ||
                std::any_of(clean.places.begin(), clean.places.end(), [&](const ProofPlace& other) {
                    return other.kind == place.kind && !other.where.intersected(place.where).empty();
                });
            totals.falseInPrints += explained ? 0 : 1;
        }
    }
}

void print(const Totals& totals) {
    std::size_t all = 0;
    std::printf("\nclean edits, %zu seams, places by kind:\n", totals.seams);
    for (std::size_t kind = 0; kind < totals.clean.size(); ++kind)
        if (totals.clean[kind] > 0) {
            std::printf("  %-16s %5zu  %.2f per 100 seams\n", std::string(proofKindNames.words[kind]).c_str(),
                        totals.clean[kind],
                        100.0 * static_cast<double>(totals.clean[kind]) / static_cast<double>(totals.seams));
            all += totals.clean[kind];
        }
    std::printf("  all              %5zu  %.2f per 100 seams\n", all,
                100.0 * static_cast<double>(all) / static_cast<double>(std::max<std::size_t>(1, totals.seams)));
    std::printf("bad seams of cuts at the anchor: %zu of %zu told of (%.3f)\n", totals.bad.of, totals.bad.all,
                totals.bad.value().value_or(1));
    std::printf("places in planted prints that nothing explains: %zu\n\n", totals.falseInPrints);
    std::printf("| kind | planted | recall | by fifths of size, from small to large | called instead |\n"
                "| --- | --- | --- | --- | --- |\n");
    for (const ProofKind kind : plantedKinds) {
        Recall recall = totals.recall[static_cast<std::size_t>(kind)];
        if (recall.faults.empty())
            continue;
        std::sort(recall.faults.begin(), recall.faults.end());
        const auto found =
            std::count_if(recall.faults.begin(), recall.faults.end(), [](const auto& f) { return f.second; });
        std::printf("| %s | %zu | %.3f |", std::string(proofKindNames.of(kind)).c_str(), recall.faults.size(),
                    static_cast<double>(found) / static_cast<double>(recall.faults.size()));
        const std::size_t count = recall.faults.size();
        for (std::size_t fifth = 0; fifth < 5; ++fifth) {
            const std::size_t from = fifth * count / 5, to = (fifth + 1) * count / 5;
            std::size_t of = 0;
            for (std::size_t i = from; i < to; ++i)
                of += recall.faults[i].second ? 1 : 0;
            if (to > from)
                std::printf(" %.1f to %.1f: %.2f%s", recall.faults[from].first, recall.faults[to - 1].first,
                            static_cast<double>(of) / static_cast<double>(to - from), fifth < 4 ? "," : "");
        }
        std::printf(" (%s) |", plantedUnit(kind));
        for (const auto& [other, times] : recall.calledOther)
            std::printf(" %s %zu",
                        other == ProofKind::map ? "nothing" : std::string(proofKindNames.of(other)).c_str(), times);
        std::printf(" |\n");
    }
}

} // namespace

int main(int argc, char** argv) {
    const std::uint64_t count = argc > 1 ? std::strtoull(argv[1], nullptr, 10) : 5;
    const std::uint64_t first = argc > 2 ? std::strtoull(argv[2], nullptr, 10) : 1;
    Totals totals;
    for (std::uint64_t seed = first; seed < first + count; ++seed) {
        const RandomKit kit = randomKit(seed);
        if (kit.mics.empty())
            return std::fprintf(stderr, "fluidsynth and the soundfonts are needed\n"), 1;
        const TempFolder folder;
        writeKit(kit, folder.path());
        AnalysedKit analysed = analyseKit(kit, folder.path());
        searchSeamsOf(analysed);
        ProofMemory memory;
        const auto clean = proofOf(analysed.session, *analysed.outcome, memory, {});
        if (!clean)
            return std::fprintf(stderr, "%s\n", clean.error().sentence.c_str()), 1;
        addClean(*clean, analysed.outcome->plan->seams.size(), totals);
        addBadSeams(analysed, totals);
        if (argc <= 3) // "clean"
            addPlanted(analysed, strokesIn(kit, analysed.session, *analysed.outcome->plan), *clean, seed, totals);
        std::printf("%4llu %zu places of %zu seams  %s\n", static_cast<unsigned long long>(seed),
                    clean->places.size(), analysed.outcome->plan->seams.size(), kit.what.c_str());
        if (std::getenv("LAMPO_PROOF_TELL"))
            for (const ProofPlace& place : clean->places)
                std::printf("      %8.3f s %-16s %.1f %s\n",
                            static_cast<double>(place.where.begin.frame) / analysed.session.rate.hz,
                            std::string(proofKindNames.of(place.kind)).c_str(), place.gravity(),
                            place.text.c_str());
        std::fflush(stdout);
    }
    print(totals);
}
