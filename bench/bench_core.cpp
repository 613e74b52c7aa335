// Measured as ratios within one run, since machines differ: see README.md for how to read it.
#include "advice/map_advice.h"
#include "audio/audio_reader.h"
#include "audio/audio_writer.h"
#include "base/kept_memory.h"
#include "base/whole_file.h"
#include "deliver/print.h"
#include "demo_kit/demo_recording.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "map/musical_map.h"
#include "onsets/onset_finder.h"
#include "pipeline/outcome.h"
#include "pipeline/searched_seams.h"
#include "project/project_file.h"
#include "proof/proof.h"
#include "seam_search/seam_search.h"
#include "seams/planner.h"
#include "support/given_candidates.h"

#include <sndfile.h>
#include <aubio/aubio.h>
#include <benchmark/benchmark.h>

#include <cmath>
#include <filesystem>
#include <random>

namespace {

using namespace lampo;
namespace fs = std::filesystem;

/// The demo recording, made once.
const fs::path& demoFolder() {
    static const fs::path folder = [] {
        const fs::path made = fs::temp_directory_path() / "lampo-bench-demo";
        if (!fs::exists(made / "lighthouse_relay.lampo"))
            (void)demo::writeDemo(made);
        return made;
    }();
    return folder;
}

const std::vector<float>& snareSamples() {
    static const std::vector<float> samples = [] {
        auto reader = AudioReader::open(demoFolder() / "A" / "snare_top.wav");
        std::vector<float> read(static_cast<std::size_t>(reader->info().length.frames));
        (void)reader->read({0}, read);
        return read;
    }();
    return samples;
}

// ---- analysis of one mic; the goal is a fifth of aubio's time at the same hop, 64 frames

void analysisByLampo(benchmark::State& state) {
    const fs::path file = demoFolder() / "A" / "snare_top.wav";
    for (auto _ : state) {
        auto reader = AudioReader::open(file);
        benchmark::DoNotOptimize(findOnsets(*reader, {}, {}));
    }
}
BENCHMARK(analysisByLampo)->Unit(benchmark::kMillisecond);

void analysisByAubioHfc(benchmark::State& state) {
    constexpr unsigned hop = 64;
    const auto& samples = snareSamples(); // aubio is spared the reading
    for (auto _ : state) {
        aubio_onset_t* onset = new_aubio_onset("hfc", 512, hop, 48000);
        fvec_t* in = new_fvec(hop);
        fvec_t* out = new_fvec(1);
        for (std::size_t at = 0; at + hop <= samples.size(); at += hop) {
            std::copy_n(samples.begin() + static_cast<std::ptrdiff_t>(at), hop, in->data);
            aubio_onset_do(onset, in, out);
        }
        del_aubio_onset(onset);
        del_fvec(in);
        del_fvec(out);
    }
}
BENCHMARK(analysisByAubioHfc)->Unit(benchmark::kMillisecond);

// ---- analysis of 12 mics of five minutes; the goal is a fiftieth of their duration, 6 s

/// The demo's mics six times in a row, and one of them twice.
const fs::path& longTake() {
    static const fs::path folder = [] {
        const fs::path made = fs::temp_directory_path() / "lampo-bench-long";
        if (fs::exists(made / "done"))
            return made;
        fs::create_directories(made);
        std::vector<fs::path> sources;
        for (const auto& entry : fs::directory_iterator(demoFolder() / "A"))
            if (entry.path().extension() == ".wav")
                sources.push_back(entry.path());
        sources.push_back(sources.front());
        for (std::size_t mic = 0; mic < sources.size(); ++mic) {
            auto reader = AudioReader::open(sources[mic]);
            std::vector<float> samples(static_cast<std::size_t>(reader->info().length.frames));
            (void)reader->read({0}, samples);
            const std::string stem = mic + 1 == sources.size() ? "again" : sources[mic].stem().string();
            auto writer = AudioWriter::create(made / (stem + ".wav"), SampleFormat::wav24, reader->info().rate);
            for (int time = 0; time < 6; ++time)
                (void)writer->write(samples);
            (void)writer->close();
            (void)writer->commit();
        }
        (void)writeAtomically(made / "done", "");
        return made;
    }();
    return folder;
}

void analysisOfTwelveMics(benchmark::State& state) {
    const auto session = importFolder(longTake());
    const double seconds = toSeconds(session->length(), session->rate).value;
    for (auto _ : state) {
        Analyses analyses;
        (void)analyseMissing(*session, analyses, Listen::toEveryMic, {});
    }
    state.counters["mics"] = static_cast<double>(session->mics.size());
    state.counters["times_as_fast_as_the_take"] =
        benchmark::Counter(seconds, benchmark::Counter::kIsIterationInvariantRate);
}
BENCHMARK(analysisOfTwelveMics)->Unit(benchmark::kMillisecond)->UseRealTime();

void analysisOfTwelveMicsRemembered(benchmark::State& state) {
    const auto session = importFolder(longTake());
    const fs::path cache = fs::temp_directory_path() / "lampo-bench-heard";
    Analyses first;
    (void)analyseMissing(*session, first, Listen::toEveryMic, {}, cache);
    for (auto _ : state) {
        Analyses analyses;
        (void)analyseMissing(*session, analyses, Listen::toEveryMic, {}, cache);
    }
}
BENCHMARK(analysisOfTwelveMicsRemembered)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- patches

/// So many over the song, replacements and gains by turns, on the kit's first mics.
std::vector<Patch> patchesOver(const Session& session, const Outcome& outcome, std::size_t count) {
    std::vector<Patch> patches;
    const std::size_t step = std::max<std::size_t>(1, outcome.hits.size() / count);
    for (std::size_t hit = step; hit < outcome.hits.size() && patches.size() < count; hit += step) {
        Patch patch;
        patch.mics = {session.mics[0].stem, session.mics[1].stem};
        patch.at = placeOf(session, outcome.hits[hit]);
        patch.before = {480};
        patch.length = {9600};
        patch.gain = {-1.5};
        if (hit / step % 2 == 0) {
            patch.kind = PatchKind::replace;
            patch.from = placeOf(session, outcome.hits[hit / 2]);
        }
        patches.push_back(patch);
    }
    return patches;
}

// ---- print of 11 mics; the goal is 1.25 times reading and rewriting the same files

void printOfElevenMics(benchmark::State& state) {
    const auto session = loadProject(demoFolder() / "lighthouse_relay.lampo");
    Analyses analyses;
    (void)analyseMissing(*session, analyses, Listen::toWitnesses, {});
    const auto outcome = outcomeOf(*session, analyses);
    const fs::path out = demoFolder() / "printed";
    for (auto _ : state)
        if (!print(*session, outcome->plan, {out, SampleFormat::wav24}, {}))
            state.SkipWithError("could not print");
}
BENCHMARK(printOfElevenMics)->Unit(benchmark::kMillisecond)->UseRealTime();

/// As many patches as a ten-minute song with a thousand has in so much time, on two mics each; the goal is 1.4
/// times rewriting.
void printWithPatches(benchmark::State& state) {
    auto session = loadProject(demoFolder() / "lighthouse_relay.lampo");
    Analyses analyses;
    (void)analyseMissing(*session, analyses, Listen::toWitnesses, {});
    const auto bare = outcomeOf(*session, analyses);
    const auto patches = static_cast<std::size_t>(1000 * toSeconds(session->length(), session->rate).value / 600);
    *session = *edited(*session, PatchEdit{AddPatches{patchesOver(*session, *bare, patches)}});
    const auto outcome = outcomeOf(*session, analyses);
    const fs::path out = demoFolder() / "patched";
    for (auto _ : state)
        if (!print(*session, outcome->plan, {out, SampleFormat::wav24}, {}))
            state.SkipWithError("could not print");
    state.counters["patches"] = static_cast<double>(outcome->plan->patches.size());
}
BENCHMARK(printWithPatches)->Unit(benchmark::kMillisecond)->UseRealTime();

void rewriteOfElevenMics(benchmark::State& state) {
    const fs::path out = demoFolder() / "rewritten";
    fs::create_directories(out);
    std::vector<int> buffer(1 << 16);
    for (auto _ : state)
        for (const auto& entry : fs::directory_iterator(demoFolder() / "A")) {
            if (entry.path().extension() != ".wav")
                continue;
            SF_INFO info{};
            SNDFILE* from = sf_open(entry.path().c_str(), SFM_READ, &info);
            SNDFILE* to = sf_open((out / entry.path().filename()).c_str(), SFM_WRITE, &info);
            while (const auto read = sf_readf_int(from, buffer.data(), static_cast<sf_count_t>(buffer.size())))
                sf_writef_int(to, buffer.data(), read);
            sf_close(from);
            sf_close(to);
        }
}
BENCHMARK(rewriteOfElevenMics)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- seams of the demo, 11 mics; the goal is 500 a second on two cores

void searchOfSeams(benchmark::State& state) {
    const auto session = loadProject(demoFolder() / "lighthouse_relay.lampo");
    Analyses analyses;
    (void)analyseMissing(*session, analyses, Listen::toWitnesses, {});
    const auto outcome = outcomeOf(*session, analyses);
    for (auto _ : state) {
        SeamAnswers answers;
        (void)searchSeams(*session, outcome->plan->open, answers, {});
    }
    state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(outcome->plan->open.size()));
}
BENCHMARK(searchOfSeams)->Unit(benchmark::kMillisecond)->UseRealTime();

// ---- the proof of the demo; the goal is a tenth of its duration of some 50 s, and a second after one change

/// The demo with its hits and seams.
struct Proved {
    Session session = *loadProject(demoFolder() / "lighthouse_relay.lampo");
    Analyses analyses;
    std::shared_ptr<const Outcome> outcome;
    Proved() {
        (void)analyseMissing(session, analyses, Listen::toEveryMic, {});
        outcome = *withSearchedSeams(session, analyses, outcomeOf(session, analyses), {});
    }
};
const Proved& proved() {
    static const Proved demo;
    return demo;
}

void proofOfElevenMics(benchmark::State& state) {
    for (auto _ : state) {
        ProofMemory nothing;
        benchmark::DoNotOptimize(proofOf(proved().session, *proved().outcome, nothing, {}));
    }
    state.counters["ofDuration"] =
        benchmark::Counter(toSeconds(proved().session.length(), proved().session.rate).value,
                           benchmark::Counter::kIsIterationInvariantRate | benchmark::Counter::kInvert);
}
BENCHMARK(proofOfElevenMics)->Unit(benchmark::kMillisecond)->UseRealTime();

/// A hit is moved to and fro.
void proofAfterOneChange(benchmark::State& state) {
    ProofMemory memory;
    (void)proofOf(proved().session, *proved().outcome, memory, {});
    const SongHit& hit = proved().outcome->hits[proved().outcome->hits.size() / 2];
    std::int64_t moved = 0;
    for (auto _ : state) {
        state.PauseTiming();
        Correction placed = correctionOf(proved().session, hit, Correction::Kind::place);
        placed.moved = {++moved};
        const Session session = *edited(proved().session, DetectionEdit{Correct{placed}});
        const auto outcome = outcomeOf(session, proved().analyses, proved().outcome.get());
        state.ResumeTiming();
        benchmark::DoNotOptimize(proofOf(session, *outcome, memory, {}));
    }
}
BENCHMARK(proofAfterOneChange)->Unit(benchmark::kMillisecond)->UseRealTime();

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
            Take take{static_cast<char>('A' + t), "/song" + std::to_string(t), {}, {}, {48000LL * 600}};
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
                perGuide[mic].push_back({{at + (mic == drum ? 0 : 96)}, {mic == drum ? 0.0 : -22.0}, {20}, {}, {}});
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

int main(int argc, char** argv) {
    lampo::keepFreedMemory(); // as the window does
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
