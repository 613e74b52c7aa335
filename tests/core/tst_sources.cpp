#include "audio/audio_reader.h"
#include "audio/rate_converter.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <sndfile.h>
#include <cmath>
#include <numbers>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

void writeChannels(const std::filesystem::path& file, const std::vector<std::vector<float>>& channels,
                   int rate = 48000) {
    SF_INFO info{0, rate, static_cast<int>(channels.size()), SF_FORMAT_WAV | SF_FORMAT_FLOAT, 0, 0};
    SNDFILE* out = sf_open(file.c_str(), SFM_WRITE, &info);
    std::vector<float> frames;
    for (std::size_t i = 0; i < channels.front().size(); ++i)
        for (const auto& channel : channels)
            frames.push_back(channel[i]);
    sf_writef_float(out, frames.data(), static_cast<sf_count_t>(channels.front().size()));
    sf_close(out);
}

std::vector<float> readAll(const SourceFile& source, std::optional<SampleRate> rate, std::int64_t from,
                           std::size_t count) {
    auto reader = AudioReader::open(source, rate);
    std::vector<float> samples(count, 9.0F);
    return reader && reader->read(SourceFrame{from}, samples) ? samples : std::vector<float>{};
}

std::vector<float> sine(double hertz, int rate, std::size_t frames) {
    std::vector<float> samples(frames);
    for (std::size_t i = 0; i < frames; ++i)
        samples[i] =
            static_cast<float>(0.5 * std::sin(2 * std::numbers::pi * hertz * static_cast<double>(i) / rate));
    return samples;
}

} // namespace

/// Channels, offsets and rates of source files.
class TestSources : public QObject {
    Q_OBJECT
private slots:
    void channelsAreTakenApart() {
        const TempFolder folder;
        const auto file = folder / "pair.wav";
        writeChannels(file, {{0.1F, 0.2F, 0.3F}, {-0.5F, 0.5F, -0.25F}});
        QVERIFY((readAll({file, 0}, {}, 0, 3) == std::vector<float>{0.1F, 0.2F, 0.3F}));
        QVERIFY((readAll({file, 1}, {}, 0, 3) == std::vector<float>{-0.5F, 0.5F, -0.25F}));
        const auto mean = readAll({file, SourceFile::everyChannel}, {}, 0, 3);
        QCOMPARE(mean[1], 0.35F);
        const auto none = AudioReader::open({file, 2});
        QVERIFY(!none && none.error().sentence.find("pair.wav") != std::string::npos);
    }
    void offsetsMoveAFileInItsTake() {
        const TempFolder folder;
        writeAudio(folder / "x.wav", {0.5F, 0.25F, 0.125F});
        const SourceFile late(folder / "x.wav", 0, FrameCount{2});
        QVERIFY((readAll(late, {}, 0, 6) == std::vector<float>{0, 0, 0.5F, 0.25F, 0.125F, 0}));
        QCOMPARE(AudioReader::open(late)->info().length.frames, std::int64_t{5});
        const SourceFile early(folder / "x.wav", 0, FrameCount{-1});
        QVERIFY((readAll(early, {}, 0, 3) == std::vector<float>{0.25F, 0.125F, 0}));
        // One that ends before its take begins is silent, at its own rate and at another.
        for (const int rate : {48000, 44100}) {
            const SourceFile over(folder / "x.wav", 0, FrameCount{-9});
            QCOMPARE(AudioReader::open(over, SampleRate{rate})->info().length, FrameCount{0});
            QVERIFY((readAll(over, SampleRate{rate}, 0, 3) == std::vector<float>{0, 0, 0}));
        }
    }
    /// Against the sine itself, which is known at any rate: soxr's best quality is good for 28 bits (its manual); a
    /// float holds 24.
    void anotherRate_data() {
        QTest::addColumn<int>("from");
        QTest::addColumn<int>("to");
        QTest::newRow("44.1 to 48 kHz") << 44100 << 48000;
        QTest::newRow("48 to 44.1 kHz") << 48000 << 44100;
        QTest::newRow("96 to 48 kHz") << 96000 << 48000;
        QTest::newRow("44.1 to 96 kHz") << 44100 << 96000;
        QTest::newRow("32 to 44.1 kHz") << 32000 << 44100;
    }
    void anotherRate() {
        QFETCH(int, from);
        QFETCH(int, to);
        const TempFolder folder;
        const auto file = folder / "tone.wav";
        writeAudio(file, sine(997, from, static_cast<std::size_t>(from * 3)), SampleFormat::wav32f, {from});
        auto reader = AudioReader::open(file, SampleRate{to});
        QVERIFY(reader.has_value());
        QCOMPARE(reader->info().rate.hz, to);
        QCOMPARE(reader->info().length.frames, std::int64_t{3} * to);
        std::vector<float> samples(static_cast<std::size_t>(2 * to));
        QVERIFY(reader->read(SourceFrame{to / 2}, samples)); // away from the ends, where the tone is cut off
        double worst = 0;
        for (std::size_t i = 0; i < samples.size(); ++i) {
            const double time = static_cast<double>(i) / to + 0.5;
            worst = std::max(worst, std::abs(samples[i] - 0.5 * std::sin(2 * std::numbers::pi * 997 * time)));
        }
        QVERIFY2(worst < 1e-6, qPrintable(QString::number(worst)));
    }
    void aConvertedFileIsTheSameWhereverReadingBegins() {
        const TempFolder folder;
        std::mt19937 random(8);
        std::uniform_real_distribution<float> loud(-0.5F, 0.5F);
        std::vector<float> noise(120000);
        std::generate(noise.begin(), noise.end(), [&] { return loud(random); });
        writeAudio(folder / "n.wav", noise, SampleFormat::wav32f, {44100});
        const SourceFile source(folder / "n.wav", 0, FrameCount{77});
        const auto whole = readAll(source, SampleRate{48000}, 0, 130000);
        auto reader = AudioReader::open(source, SampleRate{48000});
        for (int round = 0; round < 60; ++round) {
            const auto at = std::uniform_int_distribution<std::size_t>(0, 125000)(random);
            std::vector<float> piece(std::uniform_int_distribution<std::size_t>(1, 5000)(random));
            QVERIFY(reader->read(SourceFrame{static_cast<std::int64_t>(at)}, piece));
            QVERIFY(std::equal(piece.begin(), piece.end(), whole.begin() + static_cast<std::ptrdiff_t>(at)));
        }
        const auto before = readAll(source, SampleRate{48000}, -50, 77 + 50);
        QVERIFY(std::all_of(before.begin(), before.end(), [](float x) { return x == 0; }));
    }
};

QTEST_APPLESS_MAIN(TestSources)
#include "tst_sources.moc"
