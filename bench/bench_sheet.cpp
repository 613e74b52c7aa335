// Repaint of the sheet: 16 lanes, 400 cuts in sight and the ladder, in a 1280x800 window. The goal is under 6 ms.
#include "audio/audio_writer.h"
#include "document/document.h"
#include "sheet/sheet_widget.h"

#include <benchmark/benchmark.h>

#include <QApplication>
#include <QTemporaryDir>

#include <cmath>

namespace {

using namespace lampo;

/// 16 mics of 40 s with ten strokes a second, written to a folder of its own.
std::filesystem::path writeSong(const QTemporaryDir& folder) {
    const std::filesystem::path path = folder.path().toStdString();
    for (int mic = 0; mic < 16; ++mic) {
        std::vector<float> samples(48000 * 40);
        for (std::size_t i = 0; i < samples.size(); ++i) {
            const auto since = static_cast<double>(i % 4800);
            samples[i] = static_cast<float>(std::exp(-since / 900) * std::sin(since * 0.05 * (1 + mic)) * 0.8);
        }
        auto writer = AudioWriter::create(path / ((mic == 0 ? "kick" : "x" + std::to_string(mic)) + ".wav"),
                                          SampleFormat::wav16, {48000});
        (void)writer->write(samples);
        (void)writer->close();
        (void)writer->commit();
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

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    return 0;
}
