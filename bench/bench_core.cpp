// Measured as ratios within one run, since machines differ: see README.md for how to read it.
#include "audio/audio_reader.h"
#include "audio/audio_writer.h"
#include "base/kept_memory.h"
#include "base/whole_file.h"
#include "deliver/print.h"
#include "demo_kit/demo_recording.h"
#include "edits/edit.h"
#include "hits/detection.h"
#include "import/folder_import.h"
#include "onsets/onset_finder.h"
#include "patches_over.h"
#include "pipeline/outcome.h"
#include "pipeline/searched_seams.h"
#include "project/project_file.h"
#include "proof/proof.h"
#include "seam_search/seam_search.h"

#include <sndfile.h>
#include <aubio/aubio.h>
#include <benchmark/benchmark.h>

#include <cmath>
#include <filesystem>

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
        (void)reader->read(SourceFrame{0}, read);
        return read;
    }();
    return samples;
}

// ---- analysis of one mic; the goal is a fifth of aubio's time at the same hop, 64 frames

void analysisByLampo(benchmark::State& state) {
    const fs::path file = demoFolder() / "A" / "snare_top.wav";
    const OnsetSettings settings = onsetSettings(defaultEmphasis(Role::snare)); // which takes longest
    for (auto _ : state) {
        auto reader = AudioReader::open(file);
        benchmark::DoNotOptimize(findOnsets(*reader, settings, {}));
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
            (void)reader->read(SourceFrame{0}, samples);
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
        placed.moved = FrameCount{++moved};
        const Session session = *edited(proved().session, DetectionEdit{Correct{placed}});
        const auto outcome = outcomeOf(session, proved().analyses, proved().outcome.get());
        state.ResumeTiming();
        benchmark::DoNotOptimize(proofOf(session, *outcome, memory, {}));
    }
}
BENCHMARK(proofAfterOneChange)->Unit(benchmark::kMillisecond)->UseRealTime();

} // namespace

int main(int argc, char** argv) {
    lampo::keepFreedMemory(); // as the window does
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
