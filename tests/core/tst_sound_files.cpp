// What is written as a file of sound, measured, and read back by libsndfile's own readers.
#include "audio/audio_reader.h"
#include "audio/audio_writer.h"
#include "audio/quantizer.h"
#include "audio/rate_converter.h"
#include "audio/rate_stream.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <sndfile.h>
#include <cmath>
#include <numbers>
#include <sys/stat.h>

using namespace lampo;
using namespace lampo::test;

namespace {

std::vector<float> tone(double hz, double amplitude, std::size_t frames, double rate = 48000) {
    std::vector<float> sound(frames);
    for (std::size_t i = 0; i < frames; ++i)
        sound[i] =
            static_cast<float>(amplitude * std::sin(2 * std::numbers::pi * hz * static_cast<double>(i) / rate));
    return sound;
}

std::vector<double> written(const std::vector<float>& sound, int bits, Dither dither, std::uint64_t seed = 0) {
    Quantizer quantizer(bits, dither, seed);
    std::vector<double> out;
    for (const int value : quantizer.next(sound))
        out.push_back(value * 0x1.0p-31);
    return out;
}

/// The amplitude of one frequency, by Goertzel's sum under a Hann window.
double amplitudeAt(const std::vector<double>& sound, double hz, double rate = 48000) {
    double re = 0, im = 0, weights = 0;
    for (std::size_t i = 0; i < sound.size(); ++i) {
        const double x = static_cast<double>(i);
        const double window = 0.5 - 0.5 * std::cos(2 * std::numbers::pi * x / static_cast<double>(sound.size()));
        const double angle = 2 * std::numbers::pi * hz * x / rate;
        re += window * sound[i] * std::cos(angle);
        im += window * sound[i] * std::sin(angle);
        weights += window;
    }
    return 2 * std::hypot(re, im) / weights;
}

double decibels(double ratio) {
    return 20 * std::log10(std::max(ratio, 1e-15));
}

double rms(const std::vector<double>& sound) {
    double sum = 0;
    for (const double x : sound)
        sum += x * x;
    return std::sqrt(sum / static_cast<double>(sound.size()));
}

/// A file of so many channels, whole.
void write(const std::filesystem::path& file, const SoundFile& sound, const std::vector<float>& interleaved) {
    auto writer = AudioWriter::create(file, sound);
    QVERIFY2(writer.has_value(), writer ? "" : writer.error().sentence.c_str());
    QVERIFY(writer->write(interleaved).has_value());
    QVERIFY(writer->close().has_value());
    QVERIFY(writer->commit().has_value());
}

/// As libsndfile reads it, which is neither our writer of chunks nor our reader of headers.
struct Opened {
    SF_INFO info{};
    SNDFILE* file;
    explicit Opened(const std::filesystem::path& path) : file(sf_open(path.c_str(), SFM_READ, &info)) {}
    Opened(const Opened&) = delete;
    Opened& operator=(const Opened&) = delete;
    ~Opened() { sf_close(file); }
};

std::uint64_t little(const std::string& bytes, std::size_t at, int count) {
    std::uint64_t value = 0;
    for (int i = count - 1; i >= 0; --i)
        value = value << 8 | static_cast<unsigned char>(bytes[at + static_cast<std::size_t>(i)]);
    return value;
}

const std::vector<CuePoint> twoPlaces{{4800, "Boat out"}, {96001, "Lamp lit – last"}};

} // namespace

class TestSoundFiles : public QObject {
    Q_OBJECT

private slots:
    /// Whatever the number of bits holds stays as it is, in the middle of what it does not hold.
    void whatFitsIsUntouched() {
        Dice dice(3);
        for (const int bits : {16, 24}) {
            std::vector<float> sound;
            std::vector<bool> fits;
            for (int i = 0; i < 100000; ++i) {
                const bool whole = dice.chance(0.5);
                const double value = std::floor(dice.between(-1, 1) * std::ldexp(1, bits - 1));
                // Between two numbers; floats have room for a quarter of a step below 2^21.
                sound.push_back(
                    static_cast<float>(std::ldexp(whole ? value : std::floor(value / 4) + 0.25, 1 - bits)));
                fits.push_back(whole);
            }
            const auto out = written(sound, bits, Dither::tpdf);
            std::size_t moved = 0;
            for (std::size_t i = 0; i < sound.size(); ++i) {
                if (fits[i])
                    QCOMPARE(static_cast<float>(out[i]), sound[i]);
                moved += !fits[i] && std::abs(out[i] - double{sound[i]}) > std::ldexp(0.6, 1 - bits) ? 1 : 0;
            }
            QVERIFY(moved > 10000); // and the rest is dithered
        }
    }

    /// Rounded: LSB²/12, 98.1 dB under a full sine. With triangular noise LSB²/4, 4.77 dB more (Lipshitz,
    /// Wannamaker and Vanderkooy, "Quantization and dither", J. Audio Eng. Soc. 40, 1992), for any sound.
    void theNoiseFloorIsThatOfTheory() {
        const double fullSine = 1 / std::numbers::sqrt2;
        for (const double level : {0.9, 0.1, 0.001, 0.00004}) {
            const auto sound = tone(997, level, 1 << 18);
            for (const Dither dither : {Dither::none, Dither::tpdf}) {
                auto error = written(sound, 16, dither);
                for (std::size_t i = 0; i < error.size(); ++i)
                    error[i] -= double{sound[i]};
                const double floor = decibels(rms(error) / fullSine);
                qInfo("%g, %s: %.2f dB under a full sine", level, ditherNames.of(dither).data(), floor);
                if (dither == Dither::tpdf)
                    QVERIFY(std::abs(floor - (-98.09 + 4.77)) < 0.1);
                else if (level > 0.01)
                    QVERIFY(std::abs(floor - -98.09) < 0.5);
            }
        }
    }

    /// A tone of 1.3 steps: rounded it has harmonics, dithered none above the noise.
    void ditherLeavesNoHarmonics() {
        const auto sound = tone(997, 1.3 / 32768, 1 << 18);
        const auto worst = [](const std::vector<double>& out) {
            double most = 0;
            for (int harmonic = 2; harmonic <= 15; ++harmonic)
                most = std::max(most, amplitudeAt(out, 997.0 * harmonic));
            return decibels(most / (1.3 / 32768));
        };
        const auto dithered = written(sound, 16, Dither::tpdf);
        std::vector<double> beside; // what the noise alone has in such a band
        for (int i = 0; i < 60; ++i)
            beside.push_back(amplitudeAt(dithered, 1100 + 211.7 * i));
        const double noise = decibels(*std::max_element(beside.begin(), beside.end()) / (1.3 / 32768));
        qInfo("rounded %.1f dB, dithered %.1f dB, noise beside %.1f dB", worst(written(sound, 16, Dither::none)),
              worst(dithered), noise);
        QVERIFY(worst(written(sound, 16, Dither::none)) > -20);
        QVERIFY(worst(dithered) < noise + 3);
        QVERIFY(std::abs(decibels(amplitudeAt(dithered, 997) / (1.3 / 32768))) < 0.2);
    }

    void noiseIsBySeedAndPlaceAlone() {
        const auto sound = tone(443, 0.3, 50000);
        const auto whole = written(sound, 16, Dither::tpdf, 7);
        Quantizer quantizer(16, Dither::tpdf, 7);
        std::vector<double> parts;
        for (std::size_t at = 0; at < sound.size(); at += 1237)
            for (const int value :
                 quantizer.next(std::span(sound).subspan(at, std::min<std::size_t>(1237, sound.size() - at))))
                parts.push_back(value * 0x1.0p-31);
        QVERIFY(parts == whole);
        auto other = written(sound, 16, Dither::tpdf, 7 + (std::uint64_t{1} << 40));
        double product = 0, power = 0; // the noises of two files are strangers
        for (std::size_t i = 0; i < sound.size(); ++i) {
            product += (whole[i] - double{sound[i]}) * (other[i] - double{sound[i]});
            power += std::pow(whole[i] - double{sound[i]}, 2);
        }
        QVERIFY(std::abs(product / power) < 0.36); // they share the rounding's third of the error, not more
    }

    void ratesKeepTonesAndRejectAliases_data() {
        QTest::addColumn<int>("from");
        QTest::addColumn<int>("to");
        for (const auto& [from, to] : {std::pair{48000, 44100}, {96000, 44100}, {44100, 96000}, {96000, 48000}})
            QTest::addRow("%d to %d", from, to) << from << to;
    }
    /// What soxr's best quality promises is 28 bits, 169 dB; a printed file asks for less than 24 bits' 144 dB.
    void ratesKeepTonesAndRejectAliases() {
        QFETCH(int, from);
        QFETCH(int, to);
        const auto converted = [&](double hz) {
            const auto sound = tone(hz, 0.5, static_cast<std::size_t>(from) * 3, from);
            RateStream stream({from}, {to}, 1);
            std::vector<float> out;
            for (std::size_t at = 0; at < sound.size(); at += 9973) {
                const auto ready =
                    stream.next(std::span(sound).subspan(at, std::min<std::size_t>(9973, sound.size() - at)));
                out.insert(out.end(), ready->begin(), ready->end());
            }
            const auto rest = stream.rest();
            out.insert(out.end(), rest->begin(), rest->end());
            return out;
        };
        const auto low = converted(997);
        QCOMPARE(low.size(), static_cast<std::size_t>(to) * 3);
        const std::size_t edge = 8192; // a tone that begins at once has all frequencies
        double worst = 0;
        for (std::size_t i = edge; i + edge < low.size(); ++i)
            worst = std::max(worst, std::abs(double{low[i]} - 0.5 * std::sin(2 * std::numbers::pi * 997 *
                                                                             static_cast<double>(i) / to)));
        qInfo("997 Hz: at most %.1f dB off", decibels(worst / 0.5));
        QVERIFY(decibels(worst / 0.5) < -120); // in place too: one frame late would be -24
        if (to < from) {
            const auto high = converted(to * 0.5 + 1700);
            const std::vector<double> inside(high.begin() + edge, high.end() - edge);
            qInfo("%g Hz: %.1f dB left", to * 0.5 + 1700, decibels(rms(inside) / 0.354));
            QVERIFY(decibels(rms(inside) / 0.354) < -120);
        }
    }

    /// The bytes of EBU Tech 3285, and what libsndfile makes of them.
    void broadcastWaveSaysWhereItBelongs() {
        const TempFolder folder;
        const auto file = folder / "x.wav";
        SoundFile sound{{Container::bwf, Encoding::int24}, {48000}};
        sound.notes = {
            Broadcast{"Lighthouse Relay", "Lampo", "2026-11-27", "20:15:01", 0x123456789, "A=PCM,F=48000\r\n"},
            twoPlaces};
        write(file, sound, tone(100, 0.5, 100000));
        const std::string bytes = readBytes(file);
        const auto bext = bytes.find("bext");
        QVERIFY(bext != std::string::npos && bext < bytes.find("data"));
        QVERIFY(little(bytes, bext + 4, 4) >= 602 + 15);
        const std::size_t content = bext + 8;
        QCOMPARE(bytes.substr(content, 16), std::string("Lighthouse Relay"));
        QCOMPARE(bytes.substr(content + 256, 5), std::string("Lampo"));
        QCOMPARE(bytes.substr(content + 320, 18), std::string("2026-11-2720:15:01"));
        QCOMPARE(little(bytes, content + 338, 4), 0x23456789U); // TimeReferenceLow
        QCOMPARE(little(bytes, content + 342, 4), 1U);          // TimeReferenceHigh
        QCOMPARE(little(bytes, content + 346, 2), 1U);          // Version
        QCOMPARE(bytes.substr(content + 602, 15), std::string("A=PCM,F=48000\r\n"));
        const Opened opened(file);
        SF_BROADCAST_INFO said{};
        QCOMPARE(sf_command(opened.file, SFC_GET_BROADCAST_INFO, &said, sizeof said), SF_TRUE);
        QCOMPARE(std::string(said.description), std::string("Lighthouse Relay"));
        QCOMPARE(said.time_reference_low, 0x23456789U);
        QCOMPARE(said.time_reference_high, 1U);
        QCOMPARE(AudioReader::open(file)->info().timeReference, std::optional<std::int64_t>(0x123456789));
    }

    void placesHaveNames_data() {
        QTest::addColumn<QString>("format");
        for (const char* format : {"wav24", "bwf16", "wav32f", "aiff24", "aiff16", "aiff32f"})
            QTest::newRow(format) << format;
    }
    void placesHaveNames() {
        QFETCH(QString, format);
        const TempFolder folder;
        const auto as = *formatNamed(format.toStdString());
        const auto file = folder / ("x" + std::string(extension(as)));
        SoundFile sound{as, {48000}};
        sound.notes.cues = twoPlaces;
        const auto samples = tone(100, 0.5, 100000);
        write(file, sound, samples);
        const Opened opened(file);
        SF_CUES cues{};
        QCOMPARE(sf_command(opened.file, SFC_GET_CUE, &cues, sizeof cues), SF_TRUE);
        QCOMPARE(cues.cue_count, 2U);
        for (std::size_t i = 0; i < 2; ++i) {
            const bool isAiff = as.container == Container::aiff;
            QCOMPARE(static_cast<std::int64_t>(isAiff ? cues.cue_points[i].sample_offset
                                                      : cues.cue_points[i].sample_offset),
                     twoPlaces[i].at);
            QCOMPARE(std::string(cues.cue_points[i].name), twoPlaces[i].name);
        }
        QCOMPARE(static_cast<std::size_t>(opened.info.frames),
                 samples.size()); // the sound is what it would be without
        SoundFile plain{as, {48000}};
        write(folder / "plain.x", plain, samples);
        QVERIFY(readAudio(file) == readAudio(folder / "plain.x"));
    }

    void channelsLieSideBySide() {
        const TempFolder folder;
        std::vector<float> interleaved;
        for (int i = 0; i < 5000; ++i)
            for (int channel = 0; channel < 12; ++channel)
                interleaved.push_back(static_cast<float>(channel * 1000 + i % 1000) / 32768);
        SoundFile sound{SampleFormat::wav16, {48000}, 12, 5000};
        write(folder / "kit.wav", sound, interleaved);
        for (int channel = 0; channel < 12; ++channel) {
            auto reader = AudioReader::open(SourceFile(folder / "kit.wav", channel));
            QVERIFY(reader.has_value());
            std::vector<float> own(5000);
            QVERIFY(reader->read(SourceFrame{0}, own).has_value());
            QCOMPARE(own[1234], static_cast<float>(channel * 1000 + 234) / 32768);
        }
        const auto tooMany = AudioWriter::create(folder / "kit.flac", {SampleFormat::flac24, {48000}, 9, 5000});
        QVERIFY(!tooMany && tooMany.error().kind == ErrorKind::badValue);
        QVERIFY(!std::filesystem::exists(folder / "kit.flac"));
    }

    /// More than 32 bits can count is an RF64 file (EBU Tech 3306), here a sparse one: silence between two sounds.
    void beyondFourGigabytes() {
        const TempFolder folder;
        const std::int64_t frames = 1100000000;
        QVERIFY(frames * 4 > std::int64_t{1} << 32);
        auto writer = AudioWriter::create(folder / "long.wav", {SampleFormat::wav32f, {192000}, 1, frames});
        QVERIFY(writer.has_value());
        const std::vector<float> sound(1000, 0.25F), silence(1 << 20, 0.0F);
        QVERIFY(writer->write(sound).has_value());
        for (std::int64_t left = frames - 2000; left > 0;) {
            const auto some = std::min<std::int64_t>(left, std::ssize(silence));
            QVERIFY(writer->write(std::span(silence).first(static_cast<std::size_t>(some))).has_value());
            left -= some;
        }
        QVERIFY(writer->write(sound).has_value());
        QVERIFY(writer->close().has_value() && writer->commit().has_value());
        struct stat state {};
        QCOMPARE(::stat((folder / "long.wav").c_str(), &state), 0);
        QVERIFY(state.st_size > std::int64_t{1} << 32);
        QVERIFY(state.st_blocks * 512 < 1 << 26);
        const Opened opened(folder / "long.wav");
        QCOMPARE(opened.info.format & SF_FORMAT_TYPEMASK, SF_FORMAT_RF64);
        QCOMPARE(static_cast<std::int64_t>(opened.info.frames), frames);
        auto reader = AudioReader::open(folder / "long.wav");
        QVERIFY(reader.has_value());
        std::vector<float> end(2000);
        QVERIFY(reader->read(SourceFrame{frames - 2000}, end).has_value());
        QCOMPARE(end[999], 0.0F);
        QCOMPARE(end[1000], 0.25F);
        const auto aiff =
            AudioWriter::create(folder / "long.aiff", {{Container::aiff, Encoding::float32}, {192000}, 1, frames});
        QVERIFY(!aiff && aiff.error().sentence.find("4 GB") != std::string::npos);
    }
};

QTEST_GUILESS_MAIN(TestSoundFiles)
#include "tst_sound_files.moc"
