#include "audio/audio_reader.h"
#include "onsets/attack_sound.h"
#include "onsets/attack_start.h"
#include "onsets/band_energies.h"
#include "onsets/onset_finder.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr int rate = 48000;

std::vector<float> sine(double hertz, std::size_t count, double amplitude = 0.5) {
    std::vector<float> samples(count);
    for (std::size_t i = 0; i < count; ++i)
        samples[i] =
            static_cast<float>(amplitude * std::sin(2 * std::numbers::pi * hertz * static_cast<double>(i) / rate));
    return samples;
}

std::vector<float> quiet(std::size_t count, double amplitude, unsigned seed = 1) {
    std::mt19937 random(seed);
    std::vector<float> samples(count);
    for (float& sample : samples)
        sample = static_cast<float>(amplitude * std::uniform_real_distribution<>(-1, 1)(random));
    return samples;
}

/// A stroke of decaying noise.
void addStroke(std::vector<float>& samples, std::size_t at, double amplitude, unsigned seed) {
    const auto burst = quiet(9600, 1, seed);
    for (std::size_t i = 0; i < burst.size() && at + i < samples.size(); ++i)
        samples[at + i] += static_cast<float>(amplitude * std::exp(-static_cast<double>(i) / 2400)) * burst[i];
}

MicAnalysis analysisOf(const std::vector<float>& samples, const OnsetSettings& settings = {}) {
    const TempFolder folder;
    writeAudio(folder / "x.wav", samples, SampleFormat::wav32f);
    auto reader = AudioReader::open(folder / "x.wav");
    return *findOnsets(*reader, settings, {});
}

/// A brush on a skin: noise around 300 Hz that swells for 12 ms.
void addBrush(std::vector<float>& samples, std::size_t at, double amplitude, unsigned seed) {
    auto sound = quiet(9600, 1, seed);
    BandEmphasis({rate}, {0, 1, 0, 0}).process(sound);
    constexpr double swells = 0.012 * rate;
    for (std::size_t i = 0; i < sound.size() && at + i < samples.size(); ++i) {
        const auto frame = static_cast<double>(i);
        const double loud = frame < swells ? frame / swells : std::exp((swells - frame) / 2400);
        samples[at + i] += static_cast<float>(amplitude * loud) * sound[i];
    }
}

/// An undamped kick: a tone of 55 Hz that falls by 9 dB in 400 ms, and a beater above 700 Hz that falls by as much
/// in 50 ms.
void addRingingKick(std::vector<float>& samples, std::size_t at, unsigned seed) {
    auto click = quiet(24000, 1, seed);
    BandEmphasis({rate}, {0, 0, 0.5F, 0.5F}).process(click);
    const double phase = seed % 7;
    for (std::size_t i = 0; i < 48000 && at + i < samples.size(); ++i) {
        const double seconds = static_cast<double>(i) / rate;
        const double ring = std::sin(2 * std::numbers::pi * 55 * seconds + phase) * std::exp(-seconds / 0.4);
        samples[at + i] += static_cast<float>(0.3 * ring * std::min(1.0, seconds / 0.008));
        if (i < click.size())
            samples[at + i] += 0.03F * static_cast<float>(std::exp(-seconds / 0.05)) * click[i];
    }
}

} // namespace

class TestOnsets : public QObject {
    Q_OBJECT
private slots:
    void bandsHearTheirTones_data() {
        QTest::addColumn<double>("hertz");
        QTest::addColumn<int>("band");
        QTest::newRow("60 Hz") << 60.0 << 0;
        QTest::newRow("320 Hz") << 320.0 << 1;
        QTest::newRow("1.5 kHz") << 1500.0 << 2;
        QTest::newRow("8 kHz") << 8000.0 << 3;
    }
    void bandsHearTheirTones() {
        QFETCH(double, hertz);
        QFETCH(int, band);
        BandMeter meter({rate});
        std::vector<BandEnergies> energies;
        meter.add(sine(hertz, 64 * 400), energies);
        BandEnergies mean{};
        for (std::size_t h = 200; h < 400; ++h)
            for (std::size_t b = 0; b < bandCount; ++b)
                mean[b] += energies[h][b] / 200;
        QCOMPARE(static_cast<int>(std::max_element(mean.begin(), mean.end()) - mean.begin()), band);
        // In the middle of its band a tone passes at (nearly) its own power, 0.5² / 2.
        QVERIFY2(qAbs(10 * std::log10(mean[static_cast<std::size_t>(band)] / 0.125)) < 1.0,
                 qPrintable(QString::number(mean[static_cast<std::size_t>(band)])));
    }
    void bandsEqualADirectFilter() {
        // The low band against the same difference equation in double precision, one sample at a time (tolerance
        // 0.1 %).
        const auto samples = quiet(64 * 50, 0.5);
        BandMeter meter({rate});
        std::vector<BandEnergies> energies;
        meter.add(samples, energies);
        const double w = 2 * std::numbers::pi * 150 / rate, c = std::cos(w), alpha = std::sin(w) / (2 * 0.707);
        double x1 = 0, x2 = 0, y1 = 0, y2 = 0;
        for (std::size_t h = 0; h < energies.size(); ++h) {
            double sum = 0;
            for (std::size_t i = 0; i < 64; ++i) {
                const double x = samples[64 * h + i];
                const double y = ((1 - c) / 2 * (x + 2 * x1 + x2) + 2 * c * y1 - (1 - alpha) * y2) / (1 + alpha);
                x2 = std::exchange(x1, x);
                y2 = std::exchange(y1, y);
                sum += y * y;
            }
            QVERIFY(qAbs(energies[h][0] - sum / 64) <= 1e-3 * sum / 64 + 1e-9);
        }
    }
    /// Soft strokes of brushes swell for longer than sticks do, and only where the snare's mic listens least.
    void softAttacksAreFound() {
        const OnsetSettings snare{.weights = {0.15F, 0.6F, 1, 1}};
        std::size_t found = 0, all = 0, told = 0;
        for (unsigned seed = 1; seed <= 20; ++seed) {
            auto samples = quiet(20 * rate, 0.0005, 100 + seed);
            for (std::size_t beat = 0; beat < 19; ++beat) {
                addStroke(samples, rate / 4 + beat * rate, 0.5, 1000 * seed + static_cast<unsigned>(beat));
                addBrush(samples, rate * 3 / 4 + beat * rate, 0.008, 2000 * seed + static_cast<unsigned>(beat));
            }
            const auto candidates = analysisOf(samples, snare).candidates;
            told += candidates.size();
            for (std::size_t beat = 0; beat < 19; ++beat, ++all)
                found += std::any_of(candidates.begin(), candidates.end(), [&](const Candidate& one) {
                    return std::abs(one.at.frame - static_cast<std::int64_t>(rate * 3 / 4 + beat * rate)) <
                           rate / 100;
                });
        }
        qInfo("%zu of %zu found, %zu candidates", found, all, told);
        QVERIFY(found >= all * 9 / 10);      // a third where only what rises within 4 ms is looked for
        QVERIFY(told <= 2 * all + all / 10); // sticks and brushes, and hardly anything else
    }
    /// A kick's ring hides its next strokes in all bands but those of the beater's click.
    void clicksOverARingAreFound() {
        const OnsetSettings kick{.weights = {1, 0.5F, 0.7F, 0.5F}};
        std::size_t found = 0, all = 0, told = 0;
        for (unsigned seed = 1; seed <= 10; ++seed) {
            auto samples = quiet(12 * rate, 0.0005, seed);
            std::vector<std::size_t> strokes;
            for (std::size_t at = rate / 2; at + rate < samples.size(); at += rate * 8 / 100)
                strokes.push_back(at);
            for (const std::size_t at : strokes)
                addRingingKick(samples, at, 100 * seed + static_cast<unsigned>(at));
            const auto candidates = analysisOf(samples, kick).candidates;
            told += candidates.size();
            all += strokes.size();
            for (const std::size_t at : strokes)
                found += std::any_of(candidates.begin(), candidates.end(), [&](const Candidate& one) {
                    return std::abs(one.at.frame - static_cast<std::int64_t>(at)) < rate / 100;
                });
        }
        qInfo("%zu of %zu found, %zu candidates", found, all, told);
        QVERIFY(found >= all * 8 / 10); // a hundredth where no bands are looked at alone
        QVERIFY(told <= all + all / 10);
    }
    /// The wash of a cymbal swells and falls all the time, by a few decibels: no attack is in it.
    void aWashIsNoSoftAttack() {
        const OnsetSettings snare{.weights = {0.15F, 0.6F, 1, 1}};
        std::size_t told = 0;
        for (unsigned seed = 1; seed <= 10; ++seed) {
            auto samples = quiet(30 * rate, 0.05, seed);
            std::mt19937 random(seed);
            std::normal_distribution<> step(0, 2);
            double decibels = 0, next = 0;
            for (std::size_t i = 0; i < samples.size(); ++i) {
                if (i % (rate / 20) == 0) // another level every 50 ms
                    next = std::clamp(step(random), -3.0, 3.0);
                decibels += (next - decibels) / (0.006 * rate);
                samples[i] *= static_cast<float>(std::pow(10.0, decibels / 20));
            }
            addStroke(samples, rate, 0.9, seed);
            told += analysisOf(samples, snare).candidates.size();
        }
        qInfo("%zu candidates in 300 s", told);
        QVERIFY(told <= 200); // 378 where soft attacks need not stand out in a band
    }
    void akaikeFindsTheChange() {
        // Noise whose deviation rises tenfold at a known sample: found within 2 samples, whatever the place.
        for (const std::size_t change : {50U, 200U, 391U, 550U}) {
            auto samples = quiet(600, 0.01, static_cast<unsigned>(change));
            const auto loud = quiet(600, 0.1, 77);
            std::copy(loud.begin() + static_cast<std::ptrdiff_t>(change), loud.end(),
                      samples.begin() + static_cast<std::ptrdiff_t>(change));
            QVERIFY(std::abs(static_cast<int>(akaikePick(samples)) - static_cast<int>(change)) <= 2);
        }
        QCOMPARE(akaikePick(std::vector<float>(4)), std::size_t{0});
    }
    void attackStartIsNotLate() {
        // A stroke over the ring of a low tone: never more than 0.1 ms late, at most 1 ms early.
        for (unsigned seed = 1; seed <= 20; ++seed) {
            auto samples = sine(90, 700, 0.1);
            addStroke(samples, 400, 0.5, seed);
            const auto start = static_cast<int>(attackStart(std::span(samples).first(480), 0, 16));
            QVERIFY2(start <= 405 && start >= 352, qPrintable(QString::number(start)));
        }
    }
    void attackSoundsKeepTheirPlace_data() {
        QTest::addColumn<int>("hz");
        for (const int each : {44100, 48000, 96000, 192000})
            QTest::addRow("%d Hz", each) << each;
    }
    void attackSoundsKeepTheirPlace() {
        QFETCH(int, hz);
        AttackSounds sounds({hz});
        const auto factor = static_cast<double>(sounds.factor());
        QVERIFY(hz / factor > 10000 && hz / factor < 13000);
        for (const std::size_t later : {std::size_t{0}, 5 * sounds.factor()}) { // of the candidate's own frame
            std::vector<float> frames(sounds.framesWanted());
            frames[sounds.lead() * sounds.factor() + sounds.margin() + later] = 0.01F;
            sounds.add(frames);
        }
        QCOMPARE(sounds.size(), std::size_t{2});
        const auto peak = [&](std::size_t of) {
            const auto sound = sounds.of(of);
            return static_cast<std::size_t>(std::max_element(sound.begin(), sound.end()) - sound.begin());
        };
        QCOMPARE(peak(0), sounds.lead());
        QCOMPARE(peak(1), sounds.lead() + 5);
        QVERIFY(sounds.of(0)[sounds.lead()] > 100); // parts of its own peak, 127 at most
    }
    void strokesAreFoundWhereTheyAre() {
        auto samples = quiet(rate * 6, 0.0003);
        std::vector<std::int64_t> truth;
        for (std::size_t i = 0; i < 20; ++i) {
            truth.push_back(static_cast<std::int64_t>(5000 + 13331 * i));
            addStroke(samples, static_cast<std::size_t>(truth.back()), i % 3 == 2 ? 0.06 : 0.6,
                      static_cast<unsigned>(i + 1));
        }
        const auto analysis = analysisOf(samples);
        std::vector<Candidate> heard;
        for (const Candidate& candidate : analysis.candidates)
            if (candidate.level.value > -30)
                heard.push_back(candidate);
        QCOMPARE(heard.size(), truth.size());
        for (std::size_t i = 0; i < heard.size(); ++i) {
            QVERIFY(std::abs(heard[i].at.frame - truth[i]) <= 24);
            // Levels are relative to the strong strokes: 0 dB for these, 20 dB less for a tenth of the amplitude.
            QVERIFY2(qAbs(heard[i].level.value - (i % 3 == 2 ? -20 : 0)) < 2.5,
                     qPrintable(QString::number(heard[i].level.value)));
        }
    }
    void theRingOfAnotherDrumDoesNotHideAnAttack() {
        // A tone rings on, twice as loud as the stroke: its own picker is exact because the tone is foretold.
        std::vector<std::int64_t> errors;
        for (unsigned seed = 1; seed <= 20; ++seed) {
            auto samples = sine(110, rate * 2, 0.4);
            const auto noise = quiet(samples.size(), 0.0003, seed);
            for (std::size_t i = 0; i < samples.size(); ++i)
                samples[i] += noise[i];
            addStroke(samples, 50000 + 37 * seed, 0.2, seed + 50);
            const auto window = std::span(samples).subspan(50000 + 37 * seed - 700, 900);
            const auto start = static_cast<std::int64_t>(attackStart(window, 512, 16));
            errors.push_back(start - 700);
        }
        for (const std::int64_t error : errors)
            QVERIFY2(std::abs(error) <= 24, qPrintable(QString::number(error))); // 0.5 ms
    }
    void pointingNearAnAttackFindsIt() {
        const TempFolder folder;
        auto samples = quiet(rate * 2, 0.0003);
        addStroke(samples, 40000, 0.05, 3); // far below what counts as a strong stroke
        addStroke(samples, 80000, 0.8, 4);
        writeAudio(folder / "x.wav", samples);
        auto reader = AudioReader::open(folder / "x.wav");
        for (const std::int64_t away : {-600, -100, 0, 100, 600}) {
            const auto found = attackNear(*reader, SourceFrame{40000 + away}, {15});
            QVERIFY(found && std::abs(found->frame - 40000) <= 24);
        }
        QCOMPARE(attackNear(*reader, SourceFrame{20000}, {15})->frame, std::int64_t{20000}); // nothing begins there
        QVERIFY(attackNear(*reader, SourceFrame{5}, {15}).has_value());
        QCOMPARE(attackNear(*reader, SourceFrame{-4000000}, {15})->frame,
                 std::int64_t{-4000000}); // nor far beside the file
        QCOMPARE(attackNear(*reader, SourceFrame{rate * 500}, {15})->frame, std::int64_t{rate} * 500);
        QVERIFY(attackNear(*reader, SourceFrame{rate * 2 - 5}, {15}).has_value());
    }
    void emphasisIsWhatIsHeard() {
        const auto powerOf = [](double hertz, const BandEnergies& weights) {
            auto samples = sine(hertz, rate);
            BandEmphasis({rate}, weights).process(samples);
            double power = 0;
            for (const float sample : samples)
                power += static_cast<double>(sample) * sample;
            return 10 * std::log10(power / (0.125 * rate)); // dB against the tone itself
        };
        QVERIFY(std::abs(powerOf(60, {1, 0.05F, 0.05F, 0.05F})) < 2);
        QVERIFY(powerOf(60, {0.05F, 0.05F, 0.05F, 1}) < -20);
        QVERIFY(std::abs(powerOf(9000, {0.05F, 0.05F, 0.05F, 1})) < 2);
        QVERIFY(powerOf(9000, {1, 0.05F, 0.05F, 0.05F}) < -20);
    }
    void levelsDoNotDependOnGain() {
        auto samples = quiet(rate * 3, 0.0003);
        for (std::size_t i = 0; i < 6; ++i)
            addStroke(samples, 9000 + 20000 * i, i % 2 ? 0.1 : 0.5, static_cast<unsigned>(i + 1));
        auto softer = samples;
        for (float& sample : softer)
            sample *= 0.05F;
        const auto a = analysisOf(samples).candidates;
        const auto b = analysisOf(softer).candidates;
        QCOMPARE(a.size(), b.size());
        for (std::size_t i = 0; i < a.size(); ++i) {
            QCOMPARE(a[i].at.frame, b[i].at.frame);
            QVERIFY(qAbs(a[i].level.value - b[i].level.value) < 0.05);
        }
    }
    void steadySoundsHaveNoOnsets() {
        QVERIFY(analysisOf(std::vector<float>(rate, 0.0F)).candidates.empty());
        const auto tone = analysisOf(sine(55, rate * 4)).candidates;
        QVERIFY2(tone.size() <= 1, qPrintable(QString::number(tone.size()))); // its own beginning
    }
    void cancelStops() {
        const TempFolder folder;
        writeAudio(folder / "x.wav", quiet(rate * 2, 0.1));
        auto reader = AudioReader::open(folder / "x.wav");
        std::stop_source stop;
        stop.request_stop();
        const auto result = findOnsets(*reader, {}, {{}, stop.get_token()});
        QVERIFY(!result && result.error().kind == ErrorKind::cancelled);
    }
};

QTEST_APPLESS_MAIN(TestOnsets)
#include "tst_onsets.moc"
