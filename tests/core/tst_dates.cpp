#include "import/folder_import.h"
#include "onsets/onset_finder.h"
#include "pipeline/outcome.h"
#include "strokes/mean_stroke.h"
#include "strokes/own_dates.h"
#include "strokes/statistics.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr int perMs = 48;

/// A burst of noise under a falling exponential: the same each time that `seed` is the same.
std::vector<float> burst(unsigned seed, double milliseconds, double brightness) {
    std::mt19937 random(seed);
    std::normal_distribution<float> noise;
    std::vector<float> sound(static_cast<std::size_t>(milliseconds * 5 * perMs));
    float low = 0;
    for (std::size_t i = 0; i < sound.size(); ++i) {
        low += static_cast<float>(brightness) * (noise(random) - low);
        sound[i] = low * static_cast<float>(std::exp(-static_cast<double>(i) / (milliseconds * perMs)));
    }
    return sound;
}

void mix(std::vector<float>& into, const std::vector<float>& sound, std::int64_t at, float gain) {
    for (std::size_t i = 0; i < sound.size() && static_cast<std::size_t>(at) + i < into.size(); ++i)
        into[static_cast<std::size_t>(at) + i] += gain * sound[i];
}

/// A mic of one drum, and when that was struck.
struct DrumMic {
    std::vector<float> sound;
    std::vector<std::int64_t> truth;

    void strike(const std::vector<float>& drum, std::int64_t at, float gain) {
        truth.push_back(at);
        mix(sound, drum, at, gain);
    }
    void addNoise(float deviation) {
        std::mt19937 random(4);
        std::normal_distribution<float> noise(0, deviation);
        for (float& sample : sound)
            sample += noise(random);
    }
};

/// ms that strokes are dated behind the truth, ascending.
struct Dates {
    std::vector<double> off;
    std::size_t own = 0; ///< strokes that keep their own dates

    double at(double share) const {
        return off[static_cast<std::size_t>(share * static_cast<double>(off.size() - 1))];
    }
};

/// Of the strokes that are heard within 14 ms: those louder than `least` are dated, those softer than `most`
/// counted.
Dates datesIn(const DrumMic& mic, const BandEnergies& weights, double least = -8, double most = 99) {
    const TempFolder folder;
    writeAudio(folder / "drum.wav", mic.sound, SampleFormat::wav24);
    auto reader = AudioReader::open(folder / "drum.wav");
    const auto heard = findOnsets(*reader, {weights}, {});
    std::vector<std::size_t> strokes;
    std::vector<Decibels> levels;
    std::vector<std::int64_t> meant;
    for (std::size_t c = 0; heard && c < heard->candidates.size(); ++c)
        for (const std::int64_t at : mic.truth)
            if (heard->candidates[c].level.value > least &&
                std::abs(heard->candidates[c].at.frame - at) < 14 * perMs) {
                strokes.push_back(c);
                levels.push_back(heard->candidates[c].level);
                meant.push_back(at);
            }
    const auto dates = dateStrokes(*heard, strokes, levels, {48000});
    Dates found;
    for (std::size_t s = 0; s < strokes.size(); ++s) {
        if (levels[s].value > most)
            continue;
        found.off.push_back(static_cast<double>(heard->candidates[strokes[s]].at.frame - meant[s]) / perMs +
                            dates[s].shift.value);
        found.own += dates[s].ownDate ? 1 : 0;
    }
    std::sort(found.off.begin(), found.off.end());
    qInfo("%zu strokes, dates %.3f to %.3f ms off (5 %% to 95 %%), median %.3f", found.off.size(), found.at(0.05),
          found.at(0.95), found.at(0.5));
    return found;
}

/// Of forty soft strokes of a snare, each between two loud ones, in noise.
Dates datesOfSoft(const std::vector<float>& loud, const std::vector<float>& soft, float gain, float noise) {
    DrumMic mic{std::vector<float>(26000 * perMs), {}};
    for (int beat = 1; beat <= 80; ++beat)
        mic.strike(beat % 2 == 0 ? soft : loud, (300 * beat + beat % 7) * perMs, beat % 2 == 0 ? gain : 0.25F);
    mic.addNoise(noise);
    return datesIn(mic, {0.15F, 0.6F, 1, 1}, -32, -16);
}

/// Strokes 80 to 100 ms apart of a drum of two tones and a stick, which is still heard when it is struck again.
DrumMic doubleKick(unsigned seed) {
    Dice dice(seed);
    const double low = dice.between(55, 90), high = dice.between(120, 220), ring = dice.between(30, 110);
    const double swell = dice.between(0.5, 2), click = dice.between(0.05, 0.3), gap = dice.between(80, 100);
    const auto stick = burst(seed, 1.5, 0.6);
    const auto struck = [&](double speed) {
        std::vector<float> sound(static_cast<std::size_t>(4 * ring) * perMs);
        for (std::size_t i = 0; i < sound.size(); ++i) {
            const double ms = static_cast<double>(i) / perMs;
            const auto tone = [&](double hertz) {
                return std::sin(2 * std::numbers::pi * hertz * speed * ms / 1000);
            };
            sound[i] = static_cast<float>((tone(low) + 0.6 * tone(high) * std::exp(-ms / 30)) *
                                          (1 - std::exp(-ms / swell)) * std::exp(-ms / ring));
        }
        mix(sound, stick, 0, static_cast<float>(click));
        return sound;
    };
    DrumMic mic{std::vector<float>(12000 * perMs), {}};
    for (double ms = 500; ms < 11500; ms += gap)
        mic.strike(struck(dice.between(0.985, 1.015)), std::llround((ms + dice.around(0, 3, 8)) * perMs),
                   static_cast<float>(0.2 * dice.between(0.7, 1)));
    mic.addNoise(0.0002F);
    return mic;
}

/// A fill of one tom in a whole song: two tones that beat, so that it swells again behind its stick, struck while
/// it still rings.
DrumMic fill(unsigned seed) {
    Dice dice(seed);
    const double low = dice.between(70, 120), high = low * dice.between(1.3, 1.7), ring = dice.between(150, 500);
    const auto stick = burst(seed, 1.5, 0.6);
    std::vector<float> drum(static_cast<std::size_t>(3 * ring) * perMs);
    for (std::size_t i = 0; i < drum.size(); ++i) {
        const double ms = static_cast<double>(i) / perMs;
        const auto tone = [&](double hertz) { return std::sin(2 * std::numbers::pi * hertz * ms / 1000); };
        drum[i] = static_cast<float>((tone(low) + tone(high)) * std::exp(-ms / ring));
    }
    mix(drum, stick, 0, static_cast<float>(dice.between(0.1, 0.6)));
    DrumMic mic{std::vector<float>(4000 * perMs), {}};
    double ms = 500;
    for (int stroke = 0; stroke < 3; ++stroke, ms += dice.between(90, 180))
        mic.strike(drum, std::llround(ms * perMs), static_cast<float>(0.2 * dice.between(0.7, 1)));
    mic.addNoise(0.0005F);
    return mic;
}

} // namespace

class TestDates : public QObject {
    Q_OBJECT

private slots:
    /// Against a search through all stretches.
    void theEarliestModeIsFound() {
        for (std::uint64_t seed = 1; seed <= 200; ++seed) {
            Dice dice(seed);
            std::vector<double> values(static_cast<std::size_t>(dice.upTo(40)));
            for (double& value : values)
                value = dice.chance(0.4) ? dice.around(3, 0.3, 1) : dice.between(-10, 10);
            const auto enough = static_cast<std::size_t>(dice.upTo(9) + 1);
            const auto from = [&](double first) {
                return static_cast<std::size_t>(std::count_if(values.begin(), values.end(), [&](double value) {
                    return value >= first && value <= first + 0.8;
                }));
            };
            std::optional<double> earliest;
            for (const double value : values)
                if (from(value) >= enough && (!earliest || value < *earliest))
                    earliest = value;
            const auto found = earliestMode(values, 0.8, enough);
            QCOMPARE(found.has_value(), earliest.has_value());
            QVERIFY(!found || (*found >= *earliest && *found <= *earliest + 2 * 0.8));
        }
    }

    /// A hat 1.5 to 12 ms ahead, 14 dB down, does not make the snare early, neither where most strokes have one nor
    /// where only some do: all are dated at one place.
    void aHatAheadDoesNotDateTheSnare() {
        const auto snare = burst(1, 12, 0.5), hat = burst(2, 8, 1);
        for (const double share : {0.75, 0.2}) {
            Dice dice(4);
            DrumMic mic{std::vector<float>(40000 * perMs), {}};
            for (int at = 500; at < 39500; at += 500) {
                mic.strike(snare, at * perMs + dice.upTo(6), static_cast<float>(0.3 * dice.between(0.7, 1)));
                if (dice.chance(share))
                    mix(mic.sound, hat, mic.truth.back() - std::llround(dice.between(1.5, 12) * perMs), 0.06F);
            }
            mic.addNoise(0.0002F);
            const Dates dates = datesIn(mic, {0.15F, 0.6F, 1, 1});
            QVERIFY(dates.off.size() + 2 >= mic.truth.size());
            QVERIFY(dates.at(0.98) - dates.at(0.02) < 0.3);
            QVERIFY(std::abs(dates.at(0.5)) < 0.5);
            QCOMPARE(dates.own, std::size_t{0});
        }
    }

    /// Where own dates lie behind those by the mean, in ms and shares, and what becomes of these.
    void ownDatesAreBelieved_data() {
        QTest::addColumn<double>("first");  // where some own dates lie
        QTest::addColumn<double>("share");  // of the strokes
        QTest::addColumn<double>("others"); // where later edges are heard
        QTest::addColumn<bool>("soft");
        QTest::addColumn<double>("later"); // by so much all are moved
        QTest::newRow("a ring hides the start") << 2.2 << 0.3 << 4.5 << false << 1.5;
        QTest::newRow("a tenth is enough") << 2.2 << 0.12 << 6.5 << false << 1.5;
        QTest::newRow("they begin there") << 0.3 << 0.3 << 3.0 << false << 0.0;
        QTest::newRow("all are late") << 2.2 << 0.9 << 4.5 << false << 1.3;
        QTest::newRow("the means slipped back") << 5.0 << 0.9 << 9.0 << false << 5.0;
        QTest::newRow("the means slipped on") << -5.0 << 0.9 << 2.0 << false << -5.0;
        QTest::newRow("few of soft ones") << 3.0 << 0.2 << 5.0 << true << 0.0;
        QTest::newRow("many of soft ones") << 3.0 << 0.45 << 5.0 << true << 1.6;
    }
    void ownDatesAreBelieved() {
        QFETCH(const double, first);
        QFETCH(const double, share);
        QFETCH(const double, others);
        QFETCH(const bool, soft);
        QFETCH(const double, later);
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            Dice dice(seed);
            std::vector<StrokeDate> dates;
            for (int stroke = 0; stroke < 100; ++stroke) {
                const double chance = dice.between(0, 1); // one in twenty is dated by chance, or by a hat
                const double own = stroke < 100 * share ? dice.around(first, 0.1, 0.25)
                                   : chance < 0.05      ? dice.between(-12, 0)
                                                        : dice.between(others - 2, others + 4);
                dates.push_back({{-own}, 0.9, false});
            }
            dates.push_back({{0}, 0.2, true});
            const auto before = dates;
            keepNearOwnDates(dates, std::vector<std::size_t>(dates.size(), 0), soft);
            for (std::size_t stroke = 0; stroke < 100; ++stroke)
                QVERIFY(std::abs(dates[stroke].shift.value - before[stroke].shift.value - later) < 0.35);
            QCOMPARE(dates.back().shift.value, 0.0); // keeps its own
        }
    }

    /// Of two means of one drum one slipped by a period of the drum's ring: its strokes' own dates say so, and only
    /// they are moved. Nearer than a shell's period, they may all be heard late.
    void oneMeanThatSlippedIsMovedAlone() {
        for (const double slip : {8.0, -8.0, 4.0})
            for (std::uint64_t seed = 1; seed <= 20; ++seed) {
                Dice dice(seed);
                std::vector<StrokeDate> dates;
                std::vector<std::size_t> kindOf;
                for (std::size_t stroke = 0; stroke < 100; ++stroke) {
                    kindOf.push_back(stroke % 5 < 2 ? 1 : 0);
                    const double own = dice.around(kindOf.back() == 1 ? slip : 0.2, 0.1, 0.25);
                    dates.push_back({{-own}, 0.9, false});
                }
                const auto before = dates;
                keepNearOwnDates(dates, kindOf, false);
                for (std::size_t stroke = 0; stroke < dates.size(); ++stroke) {
                    const double moved = dates[stroke].shift.value - before[stroke].shift.value;
                    const double wanted = kindOf[stroke] == 1 && std::abs(slip) > 6 ? slip : 0;
                    QVERIFY2(std::abs(moved - wanted) < 0.35, qPrintable(QString("%1: %2").arg(slip).arg(moved)));
                }
            }
    }

    /// A double kick that rings on under its next strokes is dated where they begin, not in the ring. Two of these
    /// forty drums, nearly pure tones, are laid a period beside their true start.
    void aRingDoesNotMakeStrokesEarly() {
        std::size_t strokes = 0, within = 0, drums = 0;
        for (unsigned seed = 1; seed <= 40; ++seed) {
            const Dates dates = datesIn(doubleKick(seed), {1, 0.7F, 0.6F, 0.5F});
            strokes += dates.off.size();
            within += static_cast<std::size_t>(
                std::count_if(dates.off.begin(), dates.off.end(), [](double off) { return std::abs(off) <= 1; }));
            drums += std::abs(dates.at(0.5)) <= 1 ? 1 : 0;
        }
        qInfo("%zu of %zu strokes within 1 ms, %zu of 40 drums", within, strokes, drums);
        QVERIFY(drums >= 38);
        QVERIFY(within * 100 >= strokes * 93);
    }

    /// The mean of a few strokes of a tom that rings may begin anywhere in the ring: were it believed, 24 of these
    /// 159 would be that far off.
    void aFillIsDatedWhereItIsHeard() {
        std::size_t strokes = 0, far = 0;
        for (unsigned seed = 1; seed <= 60; ++seed) {
            const Dates found = datesIn(fill(seed), {1, 1, 0.6F, 0.4F});
            strokes += found.off.size();
            far += static_cast<std::size_t>(
                std::count_if(found.off.begin(), found.off.end(), [](double off) { return std::abs(off) > 3; }));
        }
        qInfo("%zu of %zu strokes are dated over 3 ms off", far, strokes);
        QVERIFY2(strokes > 150, qPrintable(QString::number(strokes)));
        QVERIFY2(far <= 6, qPrintable(QString::number(far)));
    }

    /// A brush touches the head, and swells 5 ms later. Ghost notes' touch is under the noise; they begin where
    /// loud strokes do all the same, unless they sound like something else.
    void softStrokesBeginWhereLoudOnesDo() {
        const auto touch = burst(1, 1, 0.8), sweep = burst(2, 12, 0.5), other = burst(7, 12, 0.5);
        const auto brushed = [&](const std::vector<float>& swell) {
            std::vector<float> sound(90 * perMs);
            mix(sound, touch, 0, 0.2F);
            mix(sound, swell, 5 * perMs, 1);
            return sound;
        };
        for (const bool alike : {true, false}) {
            const auto loud = brushed(sweep), soft = brushed(alike ? sweep : other);
            const Dates dates = datesOfSoft(loud, soft, 0.015F, 0.002F);
            QVERIFY(dates.off.size() >= 35);
            QVERIFY(alike ? std::abs(dates.at(0.05)) < 1 && std::abs(dates.at(0.95)) < 1
                          : dates.at(0.5) > 3 && dates.at(0.5) < 6);
        }
    }

    /// Ghost notes unlike the loud strokes, whose flank rises by 16 dB each ms as in a power kit, out of a hiss:
    /// they begin under it.
    void aSlowFlankBeginsUnderTheHiss() {
        const auto loud = burst(2, 12, 0.5);
        auto soft = burst(7, 12, 0.5);
        for (std::size_t i = 0; i < soft.size(); ++i) // −40 dB where it begins
            soft[i] *=
                static_cast<float>(std::pow(10, std::min(0.0, 16.0 * static_cast<double>(i) / perMs - 40) / 20));
        for (const float hiss : {0.001F, 0.002F, 0.003F}) {
            const Dates dates = datesOfSoft(loud, soft, 0.025F, hiss);
            QVERIFY(dates.off.size() >= 35);
            QVERIFY(std::abs(dates.at(0.05)) < 1 && std::abs(dates.at(0.95)) < 1);
        }
    }

    /// One stroke among forty swells for 60 ms: no other stroke tells where it began, and that is said all the way
    /// up to the places that want a look. Moved by hand it has been looked at.
    void anUnlikeStrokeKeepsItsOwnDateAndSaysSo() {
        const TempFolder folder;
        const auto snare = burst(1, 12, 0.5);
        auto swell = burst(3, 12, 0.5);
        std::reverse(swell.begin(), swell.end());
        std::vector<float> mic(48000 * 22);
        for (std::int64_t beat = 1; beat <= 40; ++beat)
            mix(mic, beat == 21 ? swell : snare, 24000 * beat, 0.3F);
        std::mt19937 random(4);
        std::normal_distribution<float> noise(0, 0.0002F);
        for (float& sample : mic)
            sample += noise(random);
        writeAudio(folder / "snare.wav", mic, SampleFormat::wav24);
        auto session = importFolder(folder.path());
        QVERIFY(session.has_value());
        Analyses analyses;
        QVERIFY(analyseMissing(*session, analyses, Listen::toEveryMic, {}).has_value());
        const auto outcome = outcomeOf(*session, analyses);
        std::vector<SourceFrame> own;
        for (const Stroke& stroke : outcome->takes[0]->strokes->strokes)
            if (stroke.ownDate)
                own.push_back(stroke.at);
        QCOMPARE(own.size(), std::size_t{1});
        QVERIFY(own[0].frame > 24000 * 21 - 480 && own[0].frame < 24000 * 21 + 3600);
        const auto told = [&](const Outcome& made) {
            return std::count_if(made.warnings.begin(), made.warnings.end(),
                                 [](const Warning& w) { return w.kind == WarningKind::unlikeStroke; });
        };
        QCOMPARE(told(*outcome), 1);
        Correction moved{Correction::Kind::mark, 'A', own[0]};
        moved.to = own[0] + FrameCount{48};
        session->corrections.push_back(moved);
        QCOMPARE(told(*outcomeOf(*session, analyses)), 0);
    }
};

QTEST_APPLESS_MAIN(TestDates)
#include "tst_dates.moc"
