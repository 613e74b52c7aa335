// What follows from the strokes of ten minutes, computed anew: see README.md for how to read it.
#include "advice/map_advice.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "patches_over.h"
#include "support/given_candidates.h"

#include <benchmark/benchmark.h>

#include <random>

namespace {

using namespace lampo;

// ---- full recompute of ten minutes, 16 mics, 6,000 hits; the goal is one 60 Hz frame, 16 ms

struct LongSession {
    Session session;
    Analyses analyses;

    explicit LongSession(std::size_t takes = 1) {
        std::vector<std::string> stems{"kick", "snare", "tom 1", "floor tom", "hat",
                                       "ride", "oh l",  "oh r",  "room"};
        for (int i = 0; i < 7; ++i)
            stems.push_back("x" + std::to_string(i));
        session.mics = kitOf(stems);
        session.map.tempos = {{1, {150}}};
        for (std::size_t t = 0; t < takes; ++t) {
            Take take{static_cast<char>('A' + t), "/song" + std::to_string(t), {}, {}, FrameCount{48000LL * 600}};
            for (const Mic& mic : session.mics)
                take.files.emplace_back(take.folder / (mic.stem + ".wav"));
            session.takes.push_back(take);
            addCandidates(t);
        }
    }

    /// 6,000 strokes at sixteenths with jitter, each heard by its own mic and, softer and later, by the others.
    void addCandidates(std::size_t take) {
        std::mt19937 random(static_cast<unsigned>(take) + 1);
        std::normal_distribution<> jitter(0, 300);
        std::vector<std::vector<Candidate>> perGuide(4);
        for (std::int64_t step = 4; step < 6004; ++step) {
            const auto drum = static_cast<std::size_t>(step % 4 == 0 ? 0 : step % 4 == 2 ? 1 : 2 + step / 4 % 2);
            const auto at = step * 4800 + static_cast<std::int64_t>(jitter(random));
            for (std::size_t mic = 0; mic < 4; ++mic)
                perGuide[mic].push_back(
                    {SourceFrame{at + (mic == drum ? 0 : 96)}, {mic == drum ? 0.0 : -22.0}, {20}, {}, {}});
        }
        for (MicIndex mic; mic < 4; ++mic)
            analyses.add(analysisKey(session, session.takes[take], mic), test::heardAs(perGuide[mic]));
        // As after listening: who struck is found once, beside the candidates.
        auto key = strokesKeyOf(session, analyses.of(session, session.takes[take]));
        auto strokes = std::make_shared<const TakeStrokes>(findStrokes(session, key.analyses));
        analyses.add(std::move(key), std::move(strokes));
    }
};

/// Who struck, and when: once after listening, and again when a drum's mic is said to be another's.
void strokesOf6000Hits(benchmark::State& state) {
    const LongSession song;
    const auto heard = song.analyses.of(song.session, song.session.take());
    std::size_t strokes = 0;
    for (auto _ : state)
        strokes = findStrokes(song.session, heard).strokes.size();
    state.counters["strokes"] = static_cast<double>(strokes);
}
BENCHMARK(strokesOf6000Hits)->Unit(benchmark::kMillisecond);

void fullRecomputeOf6000Hits(benchmark::State& state) {
    const LongSession song;
    std::size_t hits = 0;
    for (auto _ : state)
        hits = outcomeOf(song.session, song.analyses)->hits.size();
    state.counters["hits"] = static_cast<double>(hits);
}
BENCHMARK(fullRecomputeOf6000Hits)->Unit(benchmark::kMillisecond);

/// The same with a thousand patches on top; the goal is 16 ms.
void recomputeOf6000HitsWithAThousandPatches(benchmark::State& state) {
    LongSession song;
    const auto bare = outcomeOf(song.session, song.analyses);
    song.session = *edited(song.session, PatchEdit{AddPatches{patchesOver(song.session, *bare, 1000)}});
    std::size_t patches = 0;
    for (auto _ : state)
        patches = outcomeOf(song.session, song.analyses)->plan->patches.size();
    state.counters["patches"] = static_cast<double>(patches);
}
BENCHMARK(recomputeOf6000HitsWithAThousandPatches)->Unit(benchmark::kMillisecond);

/// The same with every seam's answer at hand.
void recomputeOf6000HitsWithAllSeamsFound(benchmark::State& state) {
    LongSession song;
    SeamAnswers answers;
    for (const SeamQuestion& question : outcomeOf(song.session, song.analyses)->plan->open)
        answers.add(question.key, {{}, question.ruled.length(), 0.5F, 0, 0});
    song.analyses.add(answers);
    std::size_t open = 0;
    for (auto _ : state)
        open = outcomeOf(song.session, song.analyses)->plan->open.size();
    state.counters["seams"] = static_cast<double>(answers.size());
    state.counters["open"] = static_cast<double>(open);
}
BENCHMARK(recomputeOf6000HitsWithAllSeamsFound)->Unit(benchmark::kMillisecond);

/// What dragging strength or a section's edge costs: hits are known, all of them are assigned and landed anew. The
/// goal is 5 ms.
void landingsOf6000Hits(benchmark::State& state) {
    const LongSession song;
    const auto outcome = outcomeOf(song.session, song.analyses);
    const MusicalMap map(song.session.map, song.session.rate);
    const auto& hits = outcome->takes.front()->found.hits;
    for (auto _ : state)
        benchmark::DoNotOptimize(land(song.session, map, {}, hits));
    state.counters["hits"] = static_cast<double>(hits.size());
}
BENCHMARK(landingsOf6000Hits)->Unit(benchmark::kMillisecond);

/// The same on a map that was imported from a performance: another tempo at every beat.
void landingsOnATempoForEachBeat(benchmark::State& state) {
    LongSession song;
    song.session.map.tempos.clear();
    for (int beat = 0; beat < 4 * 376; ++beat)
        song.session.map.tempos.push_back({1 + beat / 4, {150 + std::sin(beat)}, false, 1.0 + beat % 4});
    const auto outcome = outcomeOf(song.session, song.analyses);
    const auto& hits = outcome->takes.front()->found.hits;
    for (auto _ : state)
        benchmark::DoNotOptimize(land(song.session, MusicalMap(song.session.map, song.session.rate), {}, hits));
}
BENCHMARK(landingsOnATempoForEachBeat)->Unit(benchmark::kMillisecond);

/// What the hits say about a map of ten minutes.
void mapCheckOf6000Hits(benchmark::State& state) {
    const LongSession song;
    const auto outcome = outcomeOf(song.session, song.analyses);
    for (auto _ : state)
        benchmark::DoNotOptimize(checkMap(song.session, *outcome));
}
BENCHMARK(mapCheckOf6000Hits)->Unit(benchmark::kMillisecond);

/// What a moving threshold costs, with so many takes: bleed is known already.
void thresholdStepOf6000Hits(benchmark::State& state) {
    LongSession song(static_cast<std::size_t>(state.range(0)));
    auto outcome = outcomeOf(song.session, song.analyses);
    double level = -24;
    for (auto _ : state) {
        level = level < -20 ? -14 : -24;
        song.session = *edited(song.session, SetThreshold{0, {level}});
        outcome = outcomeOf(song.session, song.analyses, outcome.get());
    }
}
BENCHMARK(thresholdStepOf6000Hits)->Arg(1)->Arg(3)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Three takes, 16 mics, ten minutes: four bars to another take and back. The goal is 16 ms.
void swapOfFourBarsAmongThreeTakes(benchmark::State& state) {
    LongSession song(3);
    const MusicalMap map(song.session.map, song.session.rate);
    for (int bar = 1; bar < 370; bar += 6) // a comp with many borders already
        song.session = *edited(song.session, Lay{{map.barStart(bar), map.barStart(bar + 3)},
                                                 TakeIndex{static_cast<std::size_t>(bar % 2 + 1)}});
    auto outcome = outcomeOf(song.session, song.analyses);
    TakeIndex take;
    for (auto _ : state) {
        take = {(take + 1) % 3};
        song.session = *edited(song.session, Lay{{map.barStart(101), map.barStart(105)}, take});
        outcome = outcomeOf(song.session, song.analyses, outcome.get());
    }
    state.counters["borders"] = static_cast<double>(song.session.comp.passages.size() - 1);
}
BENCHMARK(swapOfFourBarsAmongThreeTakes)->Unit(benchmark::kMillisecond);

} // namespace
