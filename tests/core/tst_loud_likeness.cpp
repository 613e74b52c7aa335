#include "strokes/loud_likeness.h"
#include "support/dice.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <numbers>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr SampleRate rate{48000};
constexpr int perMs = 48;
using Samples = std::vector<float>;

/// What one drum's strokes are: a burst of noise under a falling exponential, dull or bright.
Samples drumDrawn(Dice& dice) {
    Samples sound(60 * perMs);
    const double brightness = dice.between(0.2, 0.9), decay = dice.between(4, 15) * perMs;
    double low = 0;
    for (std::size_t i = 0; i < sound.size(); ++i) {
        low += brightness * (dice.between(-1, 1) - low);
        sound[i] = static_cast<float>(low * std::exp(-static_cast<double>(i) / decay));
    }
    return sound;
}

/// Forty loud strokes and forty soft ones of a drum, each in a stretch of its own, with where each begins.
class Drum {
public:
    /// `sound`: of its loud strokes; or else drawn.
    explicit Drum(std::uint64_t seed, const Samples& sound = {})
        : dice_(seed), loudSound_(sound.empty() ? drumDrawn(dice_) : sound) {
        mic_.sounds = AttackSounds(rate);
        for (int s = 0; s < 40; ++s)
            strike(loud_, loudSound_, 1, 0, 0);
    }
    const Samples& loudSound() const { return loudSound_; }
    Dice& dice() { return dice_; }

    /// Dated `beside` ms behind its start, as one of that kind.
    void strikeSoft(const Samples& sound, double beside, std::optional<std::size_t> kind) {
        strike(soft_, sound, 0.05, beside, kind);
    }
    /// ms that the soft strokes are dated behind their starts, once they have been moved.
    std::vector<double> moved() const { return behind(movedStrokes()); }
    DatedStrokes movedStrokes() const {
        DatedStrokes soft = soft_;
        beginWhereLikeLoud(mic_, loud_, soft, rate);
        return soft;
    }
    /// The same before.
    std::vector<double> dated() const { return behind(soft_); }
    DatedStrokes& loud() { return loud_; }
    double noise = 0.1, hum = 0; ///< under soft strokes, against these

private:
    std::vector<double> behind(const DatedStrokes& soft) const {
        std::vector<double> off;
        for (std::size_t s = 0; s < soft.strokes.size(); ++s)
            off.push_back(soft.dates[s].shift.value + offOfCandidate_[soft.strokes[s]]);
        return off;
    }
    void strike(DatedStrokes& to, const Samples& sound, double gain, double beside,
                std::optional<std::size_t> kind) {
        Samples around(mic_.sounds.framesWanted());
        const double candidateOff = dice_.between(-1, 1); // ms that it was heard behind the start
        const auto lead = mic_.sounds.lead() * mic_.sounds.factor() + mic_.sounds.margin();
        const auto begin = lead - static_cast<std::size_t>(std::lround(candidateOff * perMs));
        const double level = gain * dice_.between(0.7, 1);
        for (std::size_t i = 0; i < sound.size() && begin + i < around.size(); ++i)
            around[begin + i] = static_cast<float>(level) * sound[i];
        const bool soft = gain < 1;
        const double phase = dice_.between(0, 6);
        for (std::size_t i = 0; i < around.size(); ++i)
            around[i] += static_cast<float>(
                gain *
                ((soft ? noise : 0.01) * std::sqrt(3.0) * dice_.between(-1, 1) +
                 (soft ? hum : 0) * std::sin(phase + 2 * std::numbers::pi * 0.3 * static_cast<double>(i) / perMs)));
        mic_.sounds.add(around);
        to.strokes.push_back(mic_.candidates.size());
        mic_.candidates.emplace_back();
        offOfCandidate_.push_back(candidateOff);
        to.dates.push_back({{beside - candidateOff}, 1, !kind});
        to.kindOf.push_back(kind);
    }

    Dice dice_;
    Samples loudSound_;
    MicAnalysis mic_;
    std::vector<double> offOfCandidate_; ///< by candidate
    DatedStrokes loud_, soft_;
};

double worst(const std::vector<double>& off) {
    double most = 0;
    for (const double one : off)
        most = std::max(most, std::abs(one));
    return most;
}

} // namespace

class TestLoudLikeness : public QObject {
    Q_OBJECT

private slots:
    /// As a whole, where bleed before them or a hidden flank dates a kind early or late.
    void kindsAreMoved() {
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            Drum drum(seed);
            const double beside = drum.dice().between(1, 6) * (drum.dice().chance(0.5) ? 1 : -1);
            for (int s = 0; s < 40; ++s)
                drum.strikeSoft(drum.loudSound(), beside, 3);
            const double off = worst(drum.moved());
            QVERIFY2(off < 0.15, qPrintable(QString("seed %1: %2 ms").arg(seed).arg(off)));
        }
    }
    /// In a hiss as loud as they are (by power, in what is compared) single strokes are not sure, but their kind
    /// is.
    void kindsAreMovedAsAWhole() {
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            Drum drum(seed);
            for (int s = 0; s < 40; ++s) {
                Samples noisy = drum.loudSound();
                double power = 0; // of what is compared
                for (std::size_t i = 0; i < 19 * perMs; ++i)
                    power += noisy[i] * noisy[i];
                drum.noise = std::sqrt(power / (20 * perMs));
                drum.strikeSoft(noisy, 3, 0);
            }
            for (const double off : drum.moved())
                QVERIFY2(std::abs(off) < 0.15, qPrintable(QString::number(off)));
        }
    }
    /// A hum before and under them, as loud as they are, is no part of how like loud ones they are.
    void whatSoundsBeforeThemIsTakenOut() {
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            Drum drum(seed);
            drum.hum = 1;
            for (int s = 0; s < 40; ++s)
                drum.strikeSoft(drum.loudSound(), 3, 0);
            QVERIFY2(worst(drum.moved()) < 0.15, qPrintable(QString::number(seed)));
        }
    }
    /// And single ones that lie beside their kind, or are of none; these have no longer their own date then.
    void singleStrokesAreMoved() {
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            Drum drum(seed);
            for (int s = 0; s < 40; ++s) {
                const bool ofKind = s % 8 != 0;
                drum.strikeSoft(drum.loudSound(), s % 5 == 0 ? drum.dice().between(2, 6) : 0.0,
                                ofKind ? std::optional<std::size_t>(1) : std::nullopt);
            }
            QVERIFY(worst(drum.moved()) < 0.15);
            const auto after = drum.movedStrokes().dates;
            for (std::size_t s = 0; s < after.size(); ++s)
                QCOMPARE(after[s].ownDate, s % 8 == 0 && s % 5 != 0);
        }
    }
    void whatLiesRightStays() {
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            Drum drum(seed);
            for (int s = 0; s < 40; ++s)
                drum.strikeSoft(drum.loudSound(), drum.dice().between(-0.4, 0.4), s % 3);
            QVERIFY(drum.moved() == drum.dated());
        }
    }
    /// A shell rings, so that strokes whose first period is softer are most like loud ones a period behind their
    /// start. They stay while they are nearly as much like them where they begin, but not where nothing begins.
    void nearlyAsLikeStays() {
        for (const double first : {0.6, 0.0}) {
            Samples ring(60 * perMs);
            for (std::size_t i = 0; i < ring.size(); ++i) {
                const double ms = static_cast<double>(i) / perMs;
                ring[i] = static_cast<float>(std::sin(2 * std::numbers::pi * ms / 5) * std::exp(-ms / 12));
            }
            Drum drum(1, ring);
            for (std::size_t i = 0; i < 5 * perMs; ++i)
                ring[i] *= static_cast<float>(first);
            for (int s = 0; s < 40; ++s)
                drum.strikeSoft(ring, 0, 0);
            for (const double off : drum.moved())
                QVERIFY2(std::abs(off - (first > 0 ? 0 : 5)) < 0.15, qPrintable(QString::number(off)));
        }
    }
    /// What is like nothing loud stays where it is, whatever its kind.
    void unlikeOnesStay() {
        for (std::uint64_t seed = 1; seed <= 20; ++seed) {
            Drum drum(seed);
            const Samples other = drumDrawn(drum.dice());
            for (int s = 0; s < 40; ++s)
                drum.strikeSoft(other, 2, 0);
            for (const double off : drum.moved())
                QVERIFY(std::abs(off - 2) < 1e-9);
        }
    }
    /// Of four loud strokes that are alike there is no mean, nor of those that keep their own dates.
    void fewLoudOnesTellNothing() {
        for (const bool few : {true, false}) {
            Drum drum(1);
            for (int s = 0; s < 40; ++s)
                drum.strikeSoft(drum.loudSound(), 3, 0);
            for (std::size_t s = few ? 4 : 0; s < drum.loud().kindOf.size(); ++s)
                drum.loud().kindOf[s] = std::nullopt;
            for (const double off : drum.moved())
                QVERIFY(std::abs(off - 3) < 1e-9);
        }
    }
};

QTEST_APPLESS_MAIN(TestLoudLikeness)
#include "tst_loud_likeness.moc"
