#include "audio/audio_reader.h"
#include "audio/audio_writer.h"
#include "audio/peaks.h"
#include "audio/wav_header.h"
#include "audio/window_reader.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <sndfile.h>
#include <csignal>
#include <cstring>
#include <random>
#include <sys/resource.h>

using namespace lampo;
using namespace lampo::test;

namespace {

std::vector<float> noise(std::size_t count, int bits) {
    std::mt19937 random(3);
    std::vector<float> samples(count);
    const double scale = std::ldexp(1.0, bits - 1);
    for (float& sample : samples)
        sample =
            static_cast<float>(std::round(std::uniform_real_distribution<>(-1, 1)(random) * (scale - 1)) / scale);
    return samples;
}

/// Runs `work` with files limited to `bytes`: a full disk without a disk.
template <class Work>
void withFilesLimitedTo(rlim_t bytes, Work&& work) {
    std::signal(SIGXFSZ, SIG_IGN);
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    const rlimit tight{bytes, before.rlim_max};
    setrlimit(RLIMIT_FSIZE, &tight);
    work();
    setrlimit(RLIMIT_FSIZE, &before);
}

} // namespace

class TestAudio : public QObject {
    Q_OBJECT
private slots:
    void formatsKeepEveryBit_data() {
        QTest::addColumn<QString>("format");
        for (const SampleFormat format : allSampleFormats)
            QTest::newRow(name(format).c_str()) << QString::fromStdString(name(format));
    }
    void formatsKeepEveryBit() {
        QFETCH(QString, format);
        const auto as = *formatNamed(format.toStdString());
        const TempFolder folder;
        auto samples = noise(30000, integerBits(as) == 16 ? 16 : 24);
        samples[0] = -1.0F;
        const auto file = folder / ("x" + std::string(extension(as)));
        writeAudio(file, samples, as);
        QVERIFY(readAudio(file) == samples);
    }
    void integersLimitInsteadOfWrapping() {
        const TempFolder folder;
        writeAudio(folder / "x.wav", {1.5F, -1.5F, 1.0F}, SampleFormat::wav16);
        const auto back = readAudio(folder / "x.wav");
        QCOMPARE(back[0], 32767.0F / 32768);
        QCOMPARE(back[1], -1.0F);
        QCOMPARE(back[2], 32767.0F / 32768);
    }
    void outsideIsSilence() {
        const TempFolder folder;
        writeAudio(folder / "x.wav", {0.5F, 0.25F});
        auto reader = AudioReader::open(folder / "x.wav");
        std::vector<float> samples(5, 9.0F);
        QVERIFY(reader->read(SourceFrame{-2}, samples));
        QVERIFY((samples == std::vector<float>{0, 0, 0.5F, 0.25F, 0}));
    }
    void wrongFiles_data() {
        QTest::addColumn<QString>("what");
        QTest::addColumn<int>("kind");
        QTest::newRow("missing") << "missing" << static_cast<int>(ErrorKind::notFound);
        QTest::newRow("empty") << "empty" << static_cast<int>(ErrorKind::empty);
        QTest::newRow("no frames") << "no frames" << static_cast<int>(ErrorKind::empty);
        QTest::newRow("text") << "text" << static_cast<int>(ErrorKind::unreadable);
        QTest::newRow("truncated") << "truncated" << static_cast<int>(ErrorKind::truncated);
        QTest::newRow("truncated flac") << "truncated flac" << static_cast<int>(ErrorKind::truncated);
        QTest::newRow("not a number") << "not a number" << static_cast<int>(ErrorKind::notANumber);
    }
    void wrongFiles() {
        QFETCH(QString, what);
        QFETCH(int, kind);
        const TempFolder folder;
        const auto file = folder / (what == "truncated flac" ? "lantern.flac" : "lantern.wav");
        if (what == "empty")
            writeBytes(file, "");
        else if (what == "text")
            writeBytes(file, "These are not the drums");
        else if (what == "no frames")
            writeAudio(file, {});
        else if (what == "not a number")
            writeAudio(file, {0.1F, std::numeric_limits<float>::quiet_NaN()}, SampleFormat::wav32f);
        else if (what.startsWith("truncated")) {
            writeAudio(file, noise(90000, 16), what.endsWith("flac") ? SampleFormat::flac16 : SampleFormat::wav24);
            const auto bytes = readBytes(file);
            writeBytes(file, bytes.substr(0, bytes.size() / 2));
        }
        auto reader = AudioReader::open(file);
        const auto result = reader ? checkSamples(*reader) : tl::unexpected(reader.error());
        QVERIFY(!result);
        QCOMPARE(static_cast<int>(result.error().kind), kind);
        QVERIFY2(result.error().sentence.find("lantern") != std::string::npos, result.error().sentence.c_str());
    }
    /// As recorders leave files when the power goes: the header written when recording began, then samples.
    void aHeaderWithoutALengthStillLeadsToItsSound_data() {
        QTest::addColumn<bool>("riffToo");
        QTest::addColumn<int>("behind"); ///< samples of the file that are lost with the last block
        QTest::newRow("the data's size") << false << 0;
        QTest::newRow("both sizes") << true << 0;
        QTest::newRow("cut inside a frame") << false << 4;
    }
    void aHeaderWithoutALengthStillLeadsToItsSound() {
        QFETCH(bool, riffToo);
        QFETCH(int, behind);
        const TempFolder folder;
        const auto samples = noise(5000, 24);
        writeAudio(folder / "x.wav", samples, SampleFormat::wav24);
        auto bytes = readBytes(folder / "x.wav");
        const auto data = bytes.find("data");
        bytes.replace(data + 4, 4, 4, '\0');
        if (riffToo)
            bytes.replace(4, 4, 4, '\0');
        bytes.resize(bytes.size() - static_cast<std::size_t>(behind));
        writeBytes(folder / "x.wav", bytes);
        auto reader = AudioReader::open(folder / "x.wav");
        QVERIFY2(reader.has_value(), reader ? "" : reader.error().sentence.c_str());
        QVERIFY(reader->info().lacksLength);
        const auto frames = static_cast<std::size_t>(reader->info().length.frames);
        QCOMPARE(frames, samples.size() - static_cast<std::size_t>((behind + 2) / 3));
        std::vector<float> read(frames);
        QVERIFY(reader->read(SourceFrame{0}, read));
        QVERIFY(std::equal(read.begin(), read.end(), samples.begin()));
        QVERIFY(readBytes(folder / "x.wav") == bytes); // the file stays as it is
    }
    /// A hostile file of chunks without end: after a thousand of them nothing more is said of its header.
    void endlessChunksAreNotWalked() {
        for (const auto& [chunks, lacks] : {std::pair(900, true), std::pair(1100, false)}) {
            const TempFolder folder;
            std::string bytes("RIFF\0\0\0\0WAVE", 12);
            for (int chunk = 0; chunk < chunks; ++chunk)
                bytes += std::string("note\0\0\0\0", 8);
            writeBytes(folder / "x.wav", bytes + std::string("data\0\0\0\0", 8) + std::string(600, '\x7f'));
            auto file = FileBytes::open(folder / "x.wav");
            QVERIFY(file.has_value());
            QCOMPARE(readWavHeader(*file).lacksLength, lacks);
        }
    }
    void aWavWithoutSoundButWithOtherChunksIsEmpty() {
        const TempFolder folder;
        writeAudio(folder / "x.wav", {});
        writeBytes(folder / "x.wav", readBytes(folder / "x.wav") + std::string("note\4\0\0\0Bay!", 12));
        const auto reader = AudioReader::open(folder / "x.wav");
        QVERIFY(!reader);
        QCOMPARE(reader.error().kind, ErrorKind::empty);
    }
    /// ITU-R BS.2088: RF64 by another name, with more chunks.
    void bw64IsRead() {
        const TempFolder folder;
        {
            SF_INFO info{0, 48000, 1, SF_FORMAT_RF64 | SF_FORMAT_PCM_24, 0, 0};
            SNDFILE* out = sf_open((folder / "x.wav").c_str(), SFM_WRITE, &info);
            sf_writef_float(out, noise(3000, 16).data(), 3000);
            sf_close(out);
        }
        const auto samples = readAudio(folder / "x.wav");
        auto bytes = readBytes(folder / "x.wav");
        QCOMPARE(bytes.substr(0, 4), std::string("RF64"));
        bytes.replace(0, 4, "BW64");
        writeBytes(folder / "x.wav", bytes);
        QVERIFY(readAudio(folder / "x.wav") == samples);
        // And where the power went before its long length was written.
        bytes.replace(bytes.find("ds64") + 16, 8, 8, '\0');
        writeBytes(folder / "x.wav", bytes);
        QVERIFY(readAudio(folder / "x.wav") == samples);
    }
    void ratesAndLengthsThatAreNoneAreRefused() {
        const TempFolder folder;
        writeAudio(folder / "x.wav", noise(100, 16), SampleFormat::wav16);
        auto bytes = readBytes(folder / "x.wav");
        for (const int rate : {1, 100, 4000, 768000, 2147483647}) {
            for (std::size_t i = 0; i < 4; ++i)
                bytes[24 + i] = static_cast<char>(rate >> (8 * i));
            writeBytes(folder / "x.wav", bytes);
            const auto reader = AudioReader::open(folder / "x.wav", SampleRate{48000});
            QVERIFY2(!reader, qPrintable(QString::number(rate)));
            QVERIFY(reader.error().sentence.find("x.wav") != std::string::npos);
        }
        writeAudio(folder / "y.flac", noise(9000, 16), SampleFormat::flac16);
        bytes = readBytes(folder / "y.flac");
        bytes[21] =
            static_cast<char>(bytes[21] & 0xF0); // STREAMINFO's number of samples, 36 bits: unknown (RFC 9639)
        bytes.replace(22, 4, 4, '\0');
        writeBytes(folder / "y.flac", bytes);
        const auto reader = AudioReader::open(folder / "y.flac");
        QVERIFY(!reader);
        QVERIFY2(reader.error().sentence.find("y.flac\" does not say how long") != std::string::npos,
                 reader.error().sentence.c_str());
    }
    void fullDiskLeavesNothing() {
        const TempFolder folder;
        writeAudio(folder / "old.wav", {0.25F});
        const auto before = contents(folder.path());
        withFilesLimitedTo(100000, [&] {
            auto writer = AudioWriter::create(folder / "old.wav", SampleFormat::wav24, {48000});
            QVERIFY(writer.has_value());
            const auto written =
                writer->write(std::vector<float>(100000)).and_then([&] { return writer->close(); });
            QVERIFY(!written);
            QCOMPARE(written.error().kind, ErrorKind::diskFull);
        });
        QVERIFY(contents(folder.path()) == before);
    }
    void nothingBearsTheNameBeforeCommit() {
        const TempFolder folder;
        {
            auto writer = AudioWriter::create(folder / "x.wav", SampleFormat::wav24, {48000});
            QVERIFY(writer->write(std::vector<float>(1000)).has_value());
            QVERIFY(writer->close().has_value());
            QVERIFY(!std::filesystem::exists(folder / "x.wav"));
        }
        QVERIFY(contents(folder.path()).empty());
    }
    void windowsEqualTheWhole() {
        const TempFolder folder;
        const auto samples = noise(200000, 24);
        writeAudio(folder / "x.wav", samples);
        WindowReader window(std::move(*AudioReader::open(folder / "x.wav")), 4096);
        std::mt19937 random(5);
        std::int64_t at = -100;
        for (int i = 0; i < 3000; ++i) { // forwards with jumps back, as slices are read, and now and then anywhere
            at += std::uniform_int_distribution<>(-600, 900)(random);
            if (i % 500 == 499)
                at = std::uniform_int_distribution<>(-5000, 205000)(random);
            const auto count = std::uniform_int_distribution<std::size_t>(1, 6000)(random);
            const auto frames = window.frames(SourceFrame{at}, count);
            QVERIFY(frames && frames->size() == count);
            for (std::size_t k = 0; k < count; k += 97) {
                const auto n = at + static_cast<std::int64_t>(k);
                QCOMPARE((*frames)[k], n >= 0 && n < 200000 ? samples[static_cast<std::size_t>(n)] : 0.0F);
            }
        }
    }
    void peaksEqualTheNaiveOnes() {
        const auto samples = noise(100000, 24);
        const Peaks peaks = Peaks::ofSamples(samples);
        for (std::size_t level = 0; level < 4; ++level) {
            const std::int64_t step = peaks.framesPerEntry(level);
            for (std::int64_t at = 0; at + step <= 100000; at += 3 * step) {
                const auto [low, high] = std::minmax_element(samples.begin() + at, samples.begin() + at + step);
                const Extent extent = peaks.extent({SourceFrame{at}, SourceFrame{at + step}}, level);
                QCOMPARE(extent.low, *low);
                QCOMPARE(extent.high, *high);
            }
        }
        QCOMPARE(peaks.levelFor(100), std::size_t{0});
        QCOMPARE(peaks.levelFor(1500), std::size_t{1});
        QCOMPARE(peaks.extent({SourceFrame{-500}, SourceFrame{-1}}, 0).high, 0.0F);
    }
    void damagedHeadersDoNoHarm() {
        // Every byte of the header changed in turn, and the file cut at every length: an answer, whatever it is.
        const TempFolder folder;
        writeAudio(folder / "good.wav", noise(500, 16), SampleFormat::wav16);
        const auto good = readBytes(folder / "good.wav");
        std::mt19937 random(9);
        for (std::size_t i = 0; i < 44; ++i) {
            auto bad = good;
            bad[i] = static_cast<char>(random());
            writeBytes(folder / "bad.wav", bad);
            if (auto reader = AudioReader::open(folder / "bad.wav");
                reader && reader->info().length.frames < 1 << 20)
                (void)checkSamples(*reader);
            writeBytes(folder / "bad.wav", good.substr(0, i));
            QVERIFY(!AudioReader::open(folder / "bad.wav"));
        }
    }
};

QTEST_APPLESS_MAIN(TestAudio)
#include "tst_audio.moc"
