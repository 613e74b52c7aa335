#include "onsets/familiar_strokes.h"
#include "onsets/onset_finder.h"
#include "signal/linear_prediction.h"
#include "signal/sliding_products.h"
#include "strokes/mean_stroke.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr SampleRate rate{48000};
using Samples = std::vector<float>;

/// A stroke of a snare drawn at random, or of a tom: two modes of a shell and, of a snare, its wires, in 80 ms.
Samples drumStroke(Dice& dice, bool snare = true) {
    Samples stroke(rate.hz * 80 / 1000);
    const double low = snare ? dice.between(180, 260) : dice.between(80, 140);
    const double high = low * dice.between(1.6, 2.2);
    const double wires = snare ? 1.5 : 0;
    double rattle = 0; // mostly below 4 kHz
    for (std::size_t i = 0; i < stroke.size(); ++i) {
        const double t = static_cast<double>(i) / rate.hz, turn = 2 * std::numbers::pi * t;
        rattle = 0.7 * rattle + 0.5 * dice.between(-1, 1);
        stroke[i] = static_cast<float>(std::exp(-t / 0.025) * (std::sin(low * turn) + 0.7 * std::sin(high * turn)) +
                                       wires * std::exp(-t / 0.012) * rattle);
    }
    return stroke;
}

/// What goes on between the strokes: noise, mostly low, at this level (RMS).
Samples bed(Dice& dice, std::size_t length, double level) {
    Samples noise(length);
    float last = 0;
    for (float& x : noise) {
        last = 0.9F * last + static_cast<float>(dice.between(-1, 1));
        x = last;
    }
    const double power = std::inner_product(noise.begin(), noise.end(), noise.begin(), 0.0);
    const auto scale = static_cast<float>(level / std::sqrt(power / static_cast<double>(length)));
    for (float& x : noise)
        x *= scale;
    return noise;
}

void add(Samples& to, const Samples& stroke, std::int64_t at, double gain) {
    for (std::size_t i = 0; i < stroke.size(); ++i)
        to[static_cast<std::size_t>(at) + i] += static_cast<float>(gain) * stroke[i];
}

/// Strong strokes half a second apart, which are heard, and soft ones between them, which are not.
struct Recording {
    Samples frames;
    std::vector<Candidate> heard;
    std::vector<std::int64_t> soft;
    double gain = 0; ///< of the soft ones
};

Recording record(Dice& dice, std::size_t strongOnes, const Samples& strong, const Samples& soft, double noise) {
    Recording made{bed(dice, 12 * rate.hz, noise), {}, {}, std::pow(10, dice.between(-24, -20) / 20)};
    for (std::size_t i = 0; i < 20; ++i) {
        const auto at = static_cast<std::int64_t>(rate.hz / 2 * (i + 1)) + dice.upTo(1920) - 960;
        if (i < strongOnes) {
            add(made.frames, strong, at, dice.between(0.7, 1));
            made.heard.push_back({SourceFrame{at}, {0}, {20}, {1, 1, 1, 1}});
        }
        made.soft.push_back(at + rate.hz / 4 + dice.upTo(960) - 480);
        add(made.frames, soft, made.soft.back(), made.gain);
    }
    return made;
}

std::vector<FamiliarStroke> told(const Recording& of) {
    LowRateSound sound(rate);
    sound.add(of.frames);
    return familiarStrokes(sound, rate, of.heard);
}

/// Told within 1 ms of a soft stroke.
std::ptrdiff_t rightOnes(const Recording& of, const std::vector<FamiliarStroke>& found) {
    return std::count_if(found.begin(), found.end(), [&](const FamiliarStroke& one) {
        return std::any_of(of.soft.begin(), of.soft.end(),
                           [&](std::int64_t at) { return std::abs(one.at.frame - at) <= rate.hz / 1000; });
    });
}

} // namespace

class TestFamiliarStrokes : public QObject {
    Q_OBJECT

private slots:
    /// Soft strokes as loud as the noise (their loudest 10 ms 3 dB above it at most): a matched filter gathers all
    /// their power at once.
    void softStrokesAreToldByTheirSound() {
        std::ptrdiff_t found = 0, wrong = 0, all = 0;
        double worstLevel = 0;
        for (unsigned seed = 1; seed <= 20; ++seed) {
            Dice dice(seed);
            const Samples drum = drumStroke(dice);
            const Recording made = record(dice, 20, drum, drum, 0.04);
            const auto strokes = told(made);
            const auto right = rightOnes(made, strokes);
            all += std::ssize(made.soft);
            found += right;
            wrong += std::ssize(strokes) - right;
            for (const FamiliarStroke& stroke : strokes) // the strong ones' mean power is 0.73
                worstLevel = std::max(worstLevel,
                                      std::abs(10 * std::log10(stroke.added[0] * 0.73 / (made.gain * made.gain))));
        }
        qInfo("%td of %td found, %td wrong, levels at most %.1f dB off", found, all, wrong, worstLevel);
        QVERIFY(found >= all * 85 / 100);
        QCOMPARE(wrong, 0);
        QVERIFY(worstLevel < 4);
    }
    void anotherDrumIsNotFamiliar() {
        std::ptrdiff_t wrong = 0;
        for (unsigned seed = 1; seed <= 20; ++seed) {
            Dice dice(seed);
            const Samples drum = drumStroke(dice), other = drumStroke(dice, false);
            wrong += std::ssize(told(record(dice, 20, drum, other, 0.02)));
        }
        QVERIFY2(wrong <= 4, qPrintable(QString::number(wrong))); // of 400
    }
    void fourStrongStrokesAreTooFew() {
        Dice dice(1);
        const Samples drum = drumStroke(dice);
        QVERIFY(told(record(dice, 4, drum, drum, 0.02)).empty());
        const Recording five = record(dice, 5, drum, drum, 0.02);
        QCOMPARE(rightOnes(five, told(five)), std::ssize(five.soft));
    }
    /// Rounding errors in digital silence are not like anything, and hide nothing that is.
    void digitalSilenceIsNotFamiliar() {
        std::ptrdiff_t found = 0, wrong = 0, all = 0;
        for (unsigned seed = 1; seed <= 5; ++seed) {
            Dice dice(seed);
            const Samples drum = drumStroke(dice);
            Recording made = record(dice, 20, drum, drum, 0.04);
            made.frames.resize(4 * made.frames.size());
            std::fill_n(made.frames.begin(), rate.hz / 4, 0.0F);
            const auto strokes = told(made);
            const auto right = rightOnes(made, strokes);
            all += std::ssize(made.soft);
            found += right;
            wrong += std::ssize(strokes) - right;
        }
        qInfo("%td of %td found, %td wrong", found, all, wrong);
        QVERIFY(found >= all * 85 / 100);
        QCOMPARE(wrong, 0);
        LowRateSound nothing(rate);
        QVERIFY(familiarStrokes(nothing, rate, {}).empty());
    }
    /// What is soft itself may be anything.
    void onlyStrongStrokesAreExamples() {
        Dice dice(1);
        const Samples drum = drumStroke(dice);
        Recording made = record(dice, 20, drum, drum, 0.02);
        for (Candidate& candidate : made.heard)
            candidate.level = {-5};
        QVERIFY(told(made).empty());
    }
    /// In what the finder finds, soft strokes are among the others, and say which strong ones they are like: of 200
    /// it finds 154 by their rise.
    void theFinderAddsThem() {
        std::ptrdiff_t found = 0, all = 0;
        const TempFolder folder;
        for (unsigned seed = 1; seed <= 10; ++seed) {
            Dice dice(seed);
            const Samples drum = drumStroke(dice);
            Recording made = record(dice, 20, drum, drum, 0.05);
            for (float& x : made.frames)
                x *= 0.25F;
            writeAudio(folder / "snare.wav", made.frames);
            auto reader = AudioReader::open(folder / "snare.wav");
            QVERIFY(reader.has_value());
            const auto analysis = findOnsets(*reader, {{0.15F, 0.6F, 1, 1}}, {});
            QVERIFY(analysis.has_value());
            const auto& candidates = analysis->candidates;
            QVERIFY(std::is_sorted(candidates.begin(), candidates.end(),
                                   [](const Candidate& a, const Candidate& b) { return a.at < b.at; }));
            std::vector<FamiliarStroke> strokes;
            for (const Candidate& candidate : candidates) {
                strokes.push_back({candidate.at, candidate.at, candidate.added});
                if (candidate.like)
                    QVERIFY(std::any_of(candidates.begin(), candidates.end(), [&](const Candidate& other) {
                        return other.at == *candidate.like && !other.like;
                    }));
            }
            all += std::ssize(made.soft);
            found += rightOnes(made, strokes);
        }
        qInfo("%td of %td found", found, all);
        QVERIFY(found >= all * 85 / 100);
    }
    /// Told by the loud ones, which it is somewhat like, 4 ms late: it begins where the soft ones do, which it is
    /// like.
    void whatWasToldBesideIsDatedAsSoftStrokesAre() {
        Dice dice(1);
        const Samples loud = drumStroke(dice), soft = drumStroke(dice, false);
        Samples mic = bed(dice, 25 * rate.hz, 0.001);
        MicAnalysis analysis;
        analysis.sounds = AttackSounds(rate);
        std::vector<Decibels> levels;
        std::vector<std::int64_t> truth;
        for (int s = 0; s < 80; ++s) {
            const bool isLoud = s % 2 == 0, beside = s % 8 == 1;
            truth.push_back(rate.hz * 3 / 10 * (s + 1) + dice.upTo(300));
            add(mic, isLoud ? loud : soft, truth.back(), isLoud ? 0.5 : 0.05);
            levels.push_back({isLoud ? 0.0 : -20.0});
            Candidate candidate{SourceFrame{truth.back()}, levels.back(), {10}, {1, 1, 1, 1}, {}};
            if (beside) {
                candidate.at = candidate.at + FrameCount{rate.hz / 250};
                candidate.like = SourceFrame{truth.front()};
            }
            analysis.candidates.push_back(candidate);
        }
        const auto lead =
            static_cast<std::int64_t>(analysis.sounds.lead() * analysis.sounds.factor() + analysis.sounds.margin());
        for (const Candidate& candidate : analysis.candidates)
            analysis.sounds.add(std::span(mic).subspan(static_cast<std::size_t>(candidate.at.frame - lead),
                                                       analysis.sounds.framesWanted()));
        std::vector<std::size_t> all(truth.size());
        std::iota(all.begin(), all.end(), std::size_t{0});
        const auto dates = dateStrokes(analysis, all, levels, rate);
        for (std::size_t s = 0; s < all.size(); ++s) {
            const auto off = toMilliseconds(FrameCount{analysis.candidates[s].at.frame - truth[s]}, rate).value +
                             dates[s].shift.value;
            QVERIFY2(std::abs(off) < 1, qPrintable(QString::number(off)));
        }
    }
    void theLowRateDoesNotDependOnBlocks() {
        Dice dice(1);
        const Samples frames = bed(dice, 5000, 0.1);
        LowRateSound whole(rate), pieces(rate);
        whole.add(frames);
        for (std::size_t at = 0; at < frames.size();) {
            const auto next = std::min(frames.size(), at + static_cast<std::size_t>(dice.between(1, 300)));
            pieces.add(std::span(frames).subspan(at, next - at));
            at = next;
        }
        QCOMPARE(pieces.samples(), whole.samples());
    }
    void lowRateSamplesLieWhereTheySay() {
        Samples frames(4000);
        frames[2000] = 1;
        LowRateSound sound(rate);
        sound.add(frames);
        const auto& samples = sound.samples();
        QCOMPARE(std::max_element(samples.begin(), samples.end()) - samples.begin(),
                 static_cast<std::ptrdiff_t>(2000 / sound.factor()));
    }
    void slidingProductsAreSums() {
        Dice dice(1);
        const Samples sound = bed(dice, 300, 1), first = bed(dice, 40, 1), second = bed(dice, 40, 1);
        const std::vector<std::span<const float>> parts{first, second};
        SlidingParts slid(parts, 512);
        const auto& products = slid.along(sound);
        QCOMPARE(products.size(), parts.size());
        for (std::size_t p = 0; p < parts.size(); ++p) {
            QCOMPARE(products[p].size(), sound.size() - 39);
            for (std::size_t at = 0; at < products[p].size(); ++at) {
                const double sum = std::inner_product(parts[p].begin(), parts[p].end(),
                                                      sound.begin() + static_cast<std::ptrdiff_t>(at), 0.0);
                QVERIFY(std::abs(products[p][at] - sum) < 1e-3);
            }
        }
    }
    /// Of an autoregressive process x[n] = 1.3 x[n−1] − 0.6 x[n−2] + e[n], what remains is e (Yule and Walker's
    /// equations; textbook).
    void whatIsPredictedIsTakenOut() {
        Dice dice(1);
        Samples news(20000), sound(20000);
        for (std::size_t i = 0; i < sound.size(); ++i) {
            news[i] = static_cast<float>(dice.between(-1, 1));
            sound[i] = news[i] + (i < 2 ? 0 : 1.3F * sound[i - 1] - 0.6F * sound[i - 2]);
        }
        LinearPredictor predictor;
        predictor.learn(std::span(sound).first(10000));
        predictor.learn(std::span(sound).subspan(10000));
        const Samples left = predictor.residual(sound);
        double off = 0;
        for (std::size_t i = 10; i < left.size(); ++i)
            off = std::max(off, std::abs(static_cast<double>(left[i]) - news[i]));
        QVERIFY2(off < 0.2, qPrintable(QString::number(off)));
    }
};

QTEST_APPLESS_MAIN(TestFamiliarStrokes)
#include "tst_familiar_strokes.moc"
