#include "deliver/print.h"
#include "support/built_kit.h"
#include "support/ears.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <array>
#include <cmath>
#include <tuple>

using namespace lampo;
using namespace lampo::test;

namespace {

struct Pool {
    EarFigures all, worst;
    double spread = 0, ours = 0, aubio = 0;
    int kits = 0;

    void add(const EarFigures& kit, const AgainstAubio& against) {
        for (Share EarFigures::*share :
             {&EarFigures::found, &EarFigures::precise, &EarFigures::ghosts, &EarFigures::audibleGhosts,
              &EarFigures::offBehindHat, &EarFigures::late, &EarFigures::landed, &EarFigures::landedGhosts})
            all.*share += kit.*share;
        spread += kit.spread;
        ours += against.ours;
        aubio += against.aubio;
        ++kits;
    }
};

double of(const Share& share) {
    return share.value().value_or(1);
}

/// A kit, and the figure of it that was once far lower.
struct Mended {
    const char* what;
    std::uint64_t seed;
    KitSounds sounds;
    Share EarFigures::*figure;
    double least;
};

const std::array mended{
    // Sixteenth kicks, and no bleed of the backbeat: 0.94 where paths are not held to what a mic hears while the
    // other drum is silent.
    Mended{"kicks under every backbeat", 105, KitSounds::layers, &EarFigures::found, 0.98},
    // A blast. 0.60 where such a kick passed for the snare's bleed.
    Mended{"a kick that is never struck without the snare", 404, KitSounds::layers, &EarFigures::found, 0.97},
    // Two to four strokes of each. 0.88 where such toms were taken for silent.
    Mended{"toms that are rarely struck in a loud room", 1106, KitSounds::layers, &EarFigures::found, 0.96},
    // With kick or snare. 0.76 where that was taken for their bleed.
    Mended{"a floor tom that hardly leads", 2039, KitSounds::layers, &EarFigures::found, 0.88},
    // In a loud room. 0.65 where it did not count that they are as loud as what leads them makes them.
    Mended{"silent toms beside recorded drums", 1004, KitSounds::recordedKits, &EarFigures::precise, 0.85},
    // Hats, so often that they are no strokes of a tom. 0.70 where they were.
    Mended{"what has no mic, and leads in a silent tom's", 441, KitSounds::layers, &EarFigures::precise, 0.9},
    // Heard 6 to 9 ms early. 0.94 where their mean was not believed, though all other kicks confirm it.
    Mended{"a few kicks behind hats", 7, KitSounds::layers, &EarFigures::landed, 0.97},
    // 0.15 where that was taken for their cause.
    Mended{"ghost notes that the overheads hear", 47, KitSounds::layers, &EarFigures::ghosts, 0.75},
};

} // namespace

/// Kits, players and rooms drawn at random from public soundfonts. What is asked of all of them together is in
/// docs/ears.md. What is not reached yet is an expected failure, beside a bound that holds what is.
/// Hundreds of kits: bench/ears.cpp.
class TestEars : public QObject {
    Q_OBJECT
private slots:
    void kitsDrawnAtRandom() {
        Pool pool;
        for (std::uint64_t seed = 1; seed <= 14; ++seed) {
            const RandomKit kit = randomKit(seed);
            QVERIFY2(!kit.mics.empty(), "fluidsynth, timgm6mb-soundfont and musescore-general-soundfont-small");
            const AnalysedKit heard = analyseKit(kit);
            QVERIFY(heard.outcome);
            const EarFigures figures = figuresOf(kit, heard);
            qInfo("%2d found %.3f true %.3f ghosts %.3f spread %.2f ms landed %.3f  %s", static_cast<int>(seed),
                  of(figures.found), of(figures.precise), of(figures.ghosts), figures.spread, of(figures.landed),
                  kit.what.c_str());
            pool.add(figures, seed <= 3 ? againstAubio(kit, heard) : AgainstAubio{});
            QVERIFY2(of(figures.found) >= 0.9, kit.what.c_str());
        }
        const EarFigures& all = pool.all;
        qInfo(
            "together: found %.4f, true %.4f, ghosts %.4f (audible ones %.4f), more than 3 ms off behind a hat "
            "%.4f, later than -20 dB %.4f, landed %.4f, ghosts %.4f; spread %.2f ms; F %.3f, aubio's hfc with its "
            "best thresholds %.3f",
            of(all.found), of(all.precise), of(all.ghosts), of(all.audibleGhosts), of(all.offBehindHat),
            of(all.late), of(all.landed), of(all.landedGhosts), pool.spread / pool.kits, pool.ours / 3,
            pool.aubio / 3);
        QVERIFY(of(all.offBehindHat) <= 0.02);
        QVERIFY(pool.spread / pool.kits <= 1.0);
        QVERIFY(pool.ours > pool.aubio);
        // What is reached.
        QVERIFY(of(all.found) >= 0.99);
        QVERIFY(of(all.precise) >= 0.97);
        QVERIFY(of(all.audibleGhosts) >= 0.85);
        QVERIFY(of(all.landed) >= 0.85);
        // What is wanted, and not reached: docs/ears.md says why.
        QEXPECT_FAIL("", "0.900: false hits take lines", Continue);
        QVERIFY(of(all.landed) >= 0.97);
        QVERIFY(of(all.late) <= 0.02);
    }

    void kitsByWhichHearingWasMended_data() {
        QTest::addColumn<std::size_t>("row");
        for (std::size_t row = 0; row < mended.size(); ++row)
            QTest::newRow(mended[row].what) << row;
    }
    /// Each by one figure, so that it stays.
    void kitsByWhichHearingWasMended() {
        QFETCH(std::size_t, row);
        const Mended& one = mended[row];
        const RandomKit kit = randomKit(one.seed, 1, {.sounds = one.sounds});
        const double reached = of(figuresOf(kit, analyseKit(kit)).*one.figure);
        qInfo("%.4f  %s", reached, kit.what.c_str());
        QVERIFY(reached >= one.least);
    }

    /// Two of the kits by which dating was mended, so that it stays: kicks over the ring of the kick before, of
    /// which 0.07 landed; ghost notes that were dated at bleed before them, of which 0.02 landed.
    void datesThatOnceWereEarly() {
        const RandomKit kicks = randomKit(43), ghosts = randomKit(5);
        const double kicksLanded = of(figuresOf(kicks, analyseKit(kicks)).landed);
        const double ghostsLanded = of(figuresOf(ghosts, analyseKit(ghosts)).landedGhosts);
        qInfo("landed %.4f, ghosts %.4f", kicksLanded, ghostsLanded);
        QVERIFY(kicksLanded >= 0.97);
        QVERIFY(ghostsLanded >= 0.75);
    }

    /// Recorded drums, whose kicks are not damped: they swell twice, the second time more, and ring on over their
    /// next strokes. Of the first half landed and of the second none, where that second swell was taken for the
    /// attack, and where a stroke that only its beater's click shows over the ring was not looked for.
    void recordedKits() {
        for (const auto& [seed, leastFound, leastLanded] :
             {std::tuple{1008, 0.94, 0.92}, std::tuple{1017, 0.99, 0.97}}) {
            const RandomKit kit =
                randomKit(static_cast<std::uint64_t>(seed), 1, {.sounds = KitSounds::recordedKits});
            QVERIFY2(!kit.mics.empty(), "fluidsynth and avldrums.lv2-soundfont");
            const EarFigures figures = figuresOf(kit, analyseKit(kit));
            qInfo("found %.4f landed %.4f true %.4f  %s", of(figures.found), of(figures.landed),
                  of(figures.precise), kit.what.c_str());
            QVERIFY(of(figures.found) >= leastFound);
            QVERIFY(of(figures.landed) >= leastLanded);
        }
    }

    /// What the plan says of landings is what the print has: read back by a mic whose samples are their own
    /// position.
    void landingsReadFromThePrint() {
        for (const std::uint64_t seed : {22, 58}) { // at 48 kHz and 44.1 kHz
            const TempFolder folder;
            const RandomKit kit = randomKit(seed);
            writeKit(kit, folder.path());
            std::vector<float> positions(kit.mics.front().size());
            for (std::size_t i = 0; i < positions.size(); ++i)
                positions[i] = std::ldexp(static_cast<float>(i), -24); // exact below 2^24 frames
            writeAudio(folder / "tracer.wav", positions, SampleFormat::wav32f, {kit.rate});
            const AnalysedKit heard = analyseKit(kit, folder.path());
            QVERIFY(heard.outcome);
            const TempFolder out;
            QVERIFY(
                print(heard.session, heard.outcome->plan, {out / "print", SampleFormat::wav32f}, {}).has_value());
            const auto printed = readAudio(out / "print" / "tracer.wav");
            Share agrees, landed;
            for (const TrueStroke& stroke : kit.strokes) {
                if (stroke.drum >= kit.landed || stroke.ghost || stroke.grace || !leads(kit, stroke))
                    continue;
                const auto planned = printedAt(*heard.outcome->plan, stroke.at);
                agrees.add(planned && *planned >= 0 && *planned < static_cast<std::int64_t>(printed.size()) &&
                           std::llround(std::ldexp(printed[static_cast<std::size_t>(*planned)], 24)) == stroke.at);
                landed.add(planned && std::abs(*planned - stroke.line) <= kit.rate / 1000);
            }
            qInfo("seed %d: %zu strokes, in the print where the plan says %.4f, within 1 ms of their lines %.4f",
                  static_cast<int>(seed), agrees.all, of(agrees), of(landed));
            QVERIFY(of(agrees) >= 0.98); // the others lie inside a fade, where positions are mixed
            QVERIFY(of(landed) >= 0.90);
        }
    }
};

QTEST_APPLESS_MAIN(TestEars)
#include "tst_ears.moc"
