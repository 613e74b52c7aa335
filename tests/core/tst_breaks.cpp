#include "audio/audio_reader.h"
#include "edits/edit.h"
#include "support/built_kit.h"
#include "support/ears.h"
#include "support/seam_sound.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <numbers>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr int rate = 44100;
constexpr int repeats = 12;
constexpr std::size_t leadIn = rate / 2; ///< frames of silence before the first repeat

using Sound = std::vector<float>;

/// A loop of Debian's sonic-pi-samples, its channels mixed.
Sound loopNamed(const char* name) {
    auto reader = AudioReader::open(std::filesystem::path("/usr/share/sonic-pi/samples") / name);
    if (!reader)
        return {};
    Sound loop(static_cast<std::size_t>(reader->info().length.frames));
    (void)reader->read(SourceFrame{0}, loop);
    return loop;
}

/// Two one-pole low passes.
Sound lowPassed(Sound sound, double hertz) {
    const double step = 1 - std::exp(-2 * std::numbers::pi * hertz / rate);
    for (int pole = 0; pole < 2; ++pole) {
        double state = 0;
        for (float& sample : sound)
            sample = static_cast<float>(state += step * (sample - state));
    }
    return sound;
}

/// The loop over and over in two mics, as far as a mix can be parted: what is low for the kick, the rest for the
/// snare; and, when wanted, a rack tom's mic that hears everything softly, 1 ms later, and no tom.
void writeBreak(const Sound& loop, bool withTom, const std::filesystem::path& folder) {
    Sound song(leadIn);
    for (int repeat = 0; repeat < repeats; ++repeat)
        song.insert(song.end(), loop.begin(), loop.end());
    std::mt19937 random(1);
    std::normal_distribution<float> noise(0, 1e-4F);
    const auto write = [&](const char* stem, auto sample) {
        Sound mic(song.size());
        for (std::size_t i = 0; i < mic.size(); ++i)
            mic[i] = sample(i) + noise(random);
        writeAudio(folder / (std::string(stem) + ".wav"), mic, SampleFormat::wav24, {rate});
    };
    const Sound low = lowPassed(song, 200);
    write("kick_in", [&](std::size_t i) { return 0.8F * low[i] + 0.02F * song[i]; });
    write("snare_top", [&](std::size_t i) { return 0.9F * (song[i] - low[i]); });
    if (withTom)
        write("tom_rack", [&](std::size_t i) { return i < 44 ? 0 : 0.15F * song[i - 44]; });
}

AnalysedKit heardAt(const std::filesystem::path& folder, double bpm) {
    RandomKit told;
    told.map.tempos = {{1, {bpm}}};
    told.map.origin = SongFrame{static_cast<std::int64_t>(leadIn)};
    told.grid = {1, 16};
    return analyseKit(told, folder);
}

std::vector<double> hitsOf(const std::filesystem::path& folder, double bpm) {
    const AnalysedKit heard = heardAt(folder, bpm);
    std::vector<double> ms;
    for (const Hit& hit : heard.outcome->takes.front()->found.hits)
        ms.push_back(1000.0 * static_cast<double>(hit.anchor.frame - static_cast<std::int64_t>(leadIn)) / rate);
    return ms;
}

} // namespace

/// Drum breaks that real drummers and machines played. Where strokes begin was read by eye from plots of the loops
/// (wave, below 200 Hz, above 4 kHz; dB over time, 40 ms across): the first departure from what was there before,
/// to about 1 ms; 2 ms where the snare of loop_amen begins under a ride.
class TestBreaks : public QObject {
    Q_OBJECT
private slots:
    void strokesAreFound_data() {
        QTest::addColumn<QString>("loop");
        QTest::addColumn<double>("bpm");
        QTest::addColumn<QList<double>>("strokes"); // ms; kicks and snares, ghost notes left out
        QTest::newRow("loop_amen") << "loop_amen.flac" << 136.9
                                   << QList<double>{0, 217.5, 441.5, 785, 1100, 1228, 1319};
        QTest::newRow("loop_breakbeat")
            << "loop_breakbeat.flac" << 126.0 << QList<double>{0, 476.2, 714.3, 1190.5, 1428.6};
    }
    void strokesAreFound() {
        QFETCH(QString, loop);
        QFETCH(double, bpm);
        QFETCH(QList<double>, strokes);
        const Sound sound = loopNamed(qPrintable(loop));
        QVERIFY2(!sound.empty(), "sonic-pi-samples is not installed");
        const TempFolder plain, toms;
        writeBreak(sound, false, plain.path());
        writeBreak(sound, true, toms.path());
        const auto hits = hitsOf(plain.path(), bpm);
        QVERIFY(!hits.empty());
        const double length = 1000.0 * static_cast<double>(sound.size()) / rate;
        for (const double stroke : strokes) {
            Share found;
            double worst = 0;
            for (int repeat = 0; repeat < repeats; ++repeat) {
                const double at = stroke + repeat * length;
                const double nearest = *std::min_element(hits.begin(), hits.end(), [&](double a, double b) {
                    return std::abs(a - at) < std::abs(b - at);
                }) - at;
                found.add(std::abs(nearest) <= 10);
                worst = std::abs(nearest) > std::abs(worst) ? nearest : worst;
            }
            qInfo("%s %.1f ms: found %zu of %zu, %.1f ms off at most", qPrintable(loop), stroke, found.of,
                  found.all, worst);
            QCOMPARE(found.of, found.all);
        }
        // A mic whose drum is not played changes nothing.
        QCOMPARE(hitsOf(toms.path(), bpm), hits);
    }
    /// What is printed of them: dips of more than 4 dB in at most one seam of twenty, no click.
    void seamsAreNotHeard_data() {
        QTest::addColumn<QString>("loop");
        QTest::addColumn<double>("bpm");
        QTest::addColumn<int>("fill");
        for (const Fill fill : {Fill::borrow, Fill::stretch})
            for (const auto& [loop, bpm] : {std::pair{"loop_amen", 136.9}, std::pair{"loop_breakbeat", 126.0}})
                QTest::addRow("%s, %s", loop, fillNames.of(fill).data())
                    << QStringLiteral("%1.flac").arg(loop) << bpm << static_cast<int>(fill);
    }
    void seamsAreNotHeard() {
        QFETCH(QString, loop);
        QFETCH(double, bpm);
        QFETCH(int, fill);
        const TempFolder folder;
        writeBreak(loopNamed(qPrintable(loop)), false, folder.path());
        AnalysedKit heard = heardAt(folder.path(), bpm);
        heard.session = *edited(heard.session, SeamEdit{SetFill{static_cast<Fill>(fill)}});
        heard.outcome = outcomeOf(heard.session, heard.analyses);
        const auto deep = [&] {
            const auto seams = soundsOfSeams(heard.session, heard.outcome->plan);
            const auto count = std::count_if(seams.begin(), seams.end(), [](const auto& s) { return s.dip > 4; });
            const auto steepest = std::max_element(seams.begin(), seams.end(),
                                                   [](const auto& a, const auto& b) { return a.click < b.click; });
            return std::tuple(seams.size(), count, seams.empty() ? 0 : steepest->click);
        };
        const auto [ruledSeams, ruled, ruledStep] = deep();
        searchSeamsOf(heard);
        const auto [seams, searched, step] = deep();
        qInfo("%zu seams: dips over 4 dB %td by rule, %td by search; steepest step %.2f, %.2f", seams, ruled,
              searched, ruledStep, step);
        QVERIFY(seams > 40);
        QVERIFY(static_cast<double>(searched) <= 0.05 * static_cast<double>(seams));
        QVERIFY2(step <= 1.5, qPrintable(QString::number(step)));
    }
};

QTEST_APPLESS_MAIN(TestBreaks)
#include "tst_breaks.moc"
