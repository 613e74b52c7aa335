// Repaint of the sheet: 16 lanes, 400 cuts in sight and the ladder, in a 1280x800 window. The goal is under 6 ms.
#include "audio/audio_writer.h"
#include "base/kept_memory.h"
#include "document/document.h"
#include "player/simulated_device.h"
#include "sheet/sheet_widget.h"
#include "shell/main_window.h"

#include <benchmark/benchmark.h>

#include <QApplication>
#include <QTemporaryDir>

#include <cmath>

namespace {

using namespace lampo;

void writeMic(const std::filesystem::path& folder, int mic, const std::vector<float>& samples) {
    const std::string stem = mic == 0 ? "kick" : "x" + std::to_string(mic);
    auto writer = AudioWriter::create(folder / (stem + ".wav"), SampleFormat::wav16, {48000});
    (void)writer->write(samples);
    (void)writer->close();
    (void)writer->commit();
}

/// 16 mics of 40 s with ten strokes a second, written to a folder of its own.
std::filesystem::path writeSong(const QTemporaryDir& folder) {
    const std::filesystem::path path = folder.path().toStdString();
    for (int mic = 0; mic < 16; ++mic) {
        std::vector<float> samples(48000 * 40);
        for (std::size_t i = 0; i < samples.size(); ++i) {
            const auto since = static_cast<double>(i % 4800);
            samples[i] = static_cast<float>(std::exp(-since / 900) * std::sin(since * 0.05 * (1 + mic)) * 0.8);
        }
        writeMic(path, mic, samples);
    }
    return path;
}

/// Ten minutes with a stroke every tenth of a second in the kick; the other mics say nothing.
std::filesystem::path writeLongSong(const QTemporaryDir& folder) {
    const std::filesystem::path path = folder.path().toStdString();
    for (int mic = 0; mic < 16; ++mic) {
        std::vector<float> samples(mic == 0 ? 48000 * 600 : 48000);
        for (std::size_t i = 0; i < samples.size(); ++i) {
            const auto since = static_cast<double>(i % 4800);
            const double loud = i / 4800 % 5 == 4 ? 0.08 : 0.8;
            samples[i] = static_cast<float>(std::exp(-since / 400) * std::sin(since * 0.3) * loud);
        }
        writeMic(path, mic, samples);
    }
    return path;
}

void repaint(benchmark::State& state) {
    QTemporaryDir folder;
    Document document;
    SheetWidget sheet(document);
    sheet.resize(1280, 800);
    sheet.show();
    (void)document.open(writeSong(folder));
    while (document.work().busy())
        QApplication::processEvents();
    sheet.setShow(static_cast<Show>(state.range(0)));
    for (auto _ : state)
        sheet.paintPicture();
    const auto [first, last] = sheet.state().visibleHits();
    state.counters["cuts"] = static_cast<double>(last - first);
    state.counters["lanes"] = static_cast<double>(sheet.state().layout.lanes.size());
}
BENCHMARK(repaint)->ArgName("show")->Arg(0)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond);

/// One step of a threshold that follows the hand, on all views of the window at the stop Hits: ten minutes, 16
/// mics, 6,000 hits. The goal is one 60 Hz frame, 16 ms. With the argument 1 the whole song is shown, with 0 four
/// bars.
void thresholdStep(benchmark::State& state) {
    static const QTemporaryDir folder;
    static MainWindow& window = *[] {
        auto* made = new MainWindow(std::make_unique<SimulatedDevice>()); // lives as long as the program
        made->setAsking(false);
        made->resize(1280, 800);
        made->goTo(Stop::hits);
        made->show();
        made->open(writeLongSong(folder));
        while (made->document().work().busy())
            QApplication::processEvents();
        made->document().perform(SetTempo{{150}}); // a stroke on every sixteenth
        return made;
    }();
    state.range(0) == 0 ? window.sheet().showRange(0, 8 * 48000) : window.sheet().showAll();
    const int gesture = Document::newGesture();
    double level = -24;
    for (auto _ : state) {
        level = level < -20 ? -14 : -24;
        window.document().perform(SetThreshold{0, {level}}, gesture);
        QApplication::processEvents();
    }
    state.counters["hits"] = static_cast<double>(window.document().outcome().hits.size());
}
BENCHMARK(thresholdStep)->ArgName("whole")->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);

} // namespace

int main(int argc, char** argv) {
    lampo::keepFreedMemory(); // as the window does
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
