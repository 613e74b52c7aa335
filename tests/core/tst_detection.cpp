#include "demo_kit/score.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "pipeline/outcome.h"
#include "support/aubio_onsets.h"
#include "support/built_kit.h"
#include "support/scoring.h"
#include "support/soundfont_hits.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr int rate = 48000;
constexpr std::int64_t tenMilliseconds = 480;

std::shared_ptr<const Outcome> outcomeOfFolder(const std::filesystem::path& folder, Session& session) {
    session = *importFolder(folder);
    session = *edited(session, SetTempo{{104}});
    Analyses analyses;
    if (!analyseMissing(session, analyses, Listen::toWitnesses, {}))
        return nullptr;
    return outcomeOf(session, analyses);
}

/// Where the anchors of hits heard by this mic lie.
std::vector<std::int64_t> detectedBy(const Session& session, const Outcome& outcome, const std::string& stem) {
    std::vector<std::int64_t> at;
    for (const Hit& hit : outcome.hits)
        if (hit.detectedBy & onlyMic(session.micNamed(stem)))
            at.push_back(hit.anchor.frame);
    return at;
}

double bestAubio(const std::vector<float>& samples, const std::vector<std::int64_t>& truth, double& usual) {
    usual = score(aubioOnsets(samples, rate), truth, tenMilliseconds).f;
    double best = usual;
    for (const double threshold : {0.1, 0.6, 1.0, 1.4, 2.0})
        best = std::max(best, score(aubioOnsets(samples, rate, threshold), truth, tenMilliseconds).f);
    return best;
}

} // namespace

class TestDetection : public QObject {
    Q_OBJECT
private slots:
    /// The demo, default settings. Required: F ≥ 0.98 within ±10 ms on kick, snare and toms; ghost notes F ≥ 0.90
    /// (found here without touching a threshold); median error within 0.5 ms; later than 0.5 ms in under 5 % of
    /// hits.
    void theDemo_data() {
        QTest::addColumn<char>("take");
        for (const char take : {'A', 'B', 'C'})
            QTest::addRow("take %c", take) << take;
    }
    void theDemo() {
        QFETCH(char, take);
        const TempFolder folder;
        const std::vector<std::string> guides{"kick_in", "snare_top",     "tom_rack",      "tom_floor",
                                              "hihat",   "overhead_left", "overhead_right"};
        const auto built = buildTake(folder.path(), take, 50.6, guides);
        Session session;
        const auto outcome = outcomeOfFolder(folder.path(), session);
        QVERIFY(outcome);

        std::vector<std::int64_t> allTruth, allFound;
        std::vector<std::int64_t> errors;
        const std::map<std::string, demo::Drum> drums{{"kick_in", demo::Drum::kick},
                                                      {"snare_top", demo::Drum::snare},
                                                      {"tom_rack", demo::Drum::tomRack},
                                                      {"tom_floor", demo::Drum::tomFloor}};
        for (const auto& [stem, drum] : drums) {
            std::vector<std::int64_t> truth;
            for (const auto& stroke : built.strokes)
                if (stroke.drum == drum)
                    truth.push_back(stroke.sample);
            allTruth.insert(allTruth.end(), truth.begin(), truth.end());
            // Anchors of this mic's own rank; where a higher guide gave the anchor, that drum is scored with it.
            std::vector<std::int64_t> found;
            for (const Hit& hit : outcome->hits)
                if (hit.mic == session.micNamed(stem))
                    found.push_back(hit.anchor.frame);
            const auto matched = score(found, truth, tenMilliseconds);
            errors.insert(errors.end(), matched.errors.begin(), matched.errors.end());
            double usual = 0;
            const double aubio = bestAubio(readAudio(folder / (stem + ".wav")), truth, usual);
            const double ours = score(detectedBy(session, *outcome, stem), truth, tenMilliseconds).f;
            qInfo("%-10s F %.3f, %.1f to %.1f ms off   aubio hfc %.3f, with its best threshold %.3f", stem.c_str(),
                  ours, static_cast<double>(matched.errors.front()) / 48,
                  static_cast<double>(matched.errors.back()) / 48, usual, aubio);
            QVERIFY(ours > usual && ours >= aubio);
        }
        // Strokes struck together are one hit: the truth joins what lies within the cluster window.
        std::sort(allTruth.begin(), allTruth.end());
        std::vector<std::int64_t> clusters;
        for (const auto at : allTruth)
            if (clusters.empty() || at - clusters.back() > 720)
                clusters.push_back(at);
        for (const Hit& hit : outcome->hits)
            allFound.push_back(hit.first.frame);
        const auto all = score(allFound, clusters, tenMilliseconds);
        std::sort(errors.begin(), errors.end(), [](auto a, auto b) { return std::abs(a) < std::abs(b); });
        const double median = static_cast<double>(std::abs(errors[errors.size() / 2])) / 48;
        const double late = lateShare(errors);
        const double deviation = spread(errors) / 48;
        qInfo("all hits   F %.4f, median error %.3f ms, late in %.1f %%, standard deviation %.2f ms", all.f, median,
              100 * late, deviation);
        QVERIFY(all.f >= 0.98);
        QVERIFY(median <= 0.5);
        QVERIFY(late < 0.05);
        QVERIFY(deviation < 1);

        std::vector<std::int64_t> ghosts;
        std::vector<std::int64_t> softFound;
        for (const auto& stroke : built.strokes)
            if (stroke.ghost)
                ghosts.push_back(stroke.sample);
        for (const Hit& hit : outcome->hits)
            if (hit.mic == session.micNamed("snare_top") && hit.level.value < -12)
                softFound.push_back(hit.anchor.frame);
        const double ghostF = score(softFound, ghosts, tenMilliseconds).f;
        qInfo("ghosts     F %.3f", ghostF);
        QVERIFY(ghostF >= 0.90);
    }

    /// A hat that guides at the lowest rank: its strokes come between the others, whose hits stay as they are.
    void hatsBetweenTheOthers() {
        const TempFolder folder;
        const auto built =
            buildTake(folder.path(), 'B', 30, {"kick_in", "snare_top", "tom_rack", "tom_floor", "hihat"});
        Session session = *importFolder(folder.path());
        session = *edited(session, SetTempo{{104}});
        session = *edited(session, SetGuide{*session.micNamed("hihat"), true});
        Analyses analyses;
        QVERIFY(analyseMissing(session, analyses, Listen::toWitnesses, {}).has_value());
        const auto outcome = outcomeOf(session, analyses);
        std::vector<std::int64_t> all, hats, kicks, found;
        for (const auto& stroke : built.strokes) {
            all.push_back(stroke.sample);
            if (stroke.drum == demo::Drum::hat)
                hats.push_back(stroke.sample);
            if (stroke.drum == demo::Drum::kick)
                kicks.push_back(stroke.sample);
        }
        for (const Hit& hit : outcome->hits)
            found.push_back(hit.anchor.frame);
        std::sort(all.begin(), all.end());
        const auto missed = hats.size() - score(found, hats, tenMilliseconds).matched;
        const double kickF = score(detectedBy(session, *outcome, "kick_in"), kicks, tenMilliseconds).f;
        qInfo("%zu hats, %zu missed; kick F %.3f", hats.size(), missed, kickF);
        QVERIFY(hats.size() > 20 && missed == 0);
        QVERIFY(kickF >= 0.98);
        QVERIFY(static_cast<double>(score(found, all, tenMilliseconds).matched) >=
                0.97 * static_cast<double>(found.size()));
    }

    /// Drums this project did not make: TimGM6mb played by fluidsynth, placed at known samples, with bleed 18 dB
    /// down and late by 1.2 m, and noise at −78 dBFS.
    void soundfontDrums() {
        const std::vector<int> keys{36, 38, 45}; // General MIDI: bass drum 1, acoustic snare, low tom
        const auto hits = soundfontHits(keys, {40, 75, 110, 127}, rate);
        QVERIFY2(!hits.empty(), "fluidsynth and timgm6mb-soundfont are needed");
        const TempFolder folder;
        const std::vector<std::string> stems{"kick", "snare", "tom 1"};
        constexpr std::int64_t length = rate * 60;
        std::vector<std::vector<float>> mics(3, std::vector<float>(length));
        std::vector<std::vector<std::int64_t>> truth(3);
        std::mt19937 random(17);
        std::int64_t at = rate / 2;
        for (int stroke = 0; at < length - rate; ++stroke) {
            const std::size_t drum = stroke % 8 == 7 ? 2 : static_cast<std::size_t>(stroke % 2);
            const auto& sound = hits[drum][std::uniform_int_distribution<std::size_t>(0, 3)(random)];
            truth[drum].push_back(at);
            for (std::size_t mic = 0; mic < 3; ++mic) {
                const float gain = mic == drum ? 1.0F : 0.126F;
                const std::int64_t start = at + (mic == drum ? 0 : 168);
                for (std::size_t i = 0; i < sound.size() && start + static_cast<std::int64_t>(i) < length; ++i)
                    mics[mic][static_cast<std::size_t>(start) + i] += gain * sound[i];
            }
            at += std::uniform_int_distribution<>(6000, 16000)(random);
        }
        for (std::size_t mic = 0; mic < 3; ++mic) {
            for (float& sample : mics[mic])
                sample += static_cast<float>(0.000218 * std::uniform_real_distribution<>(-1, 1)(random));
            writeAudio(folder / (stems[mic] + ".wav"), mics[mic]);
        }
        Session session;
        const auto outcome = outcomeOfFolder(folder.path(), session);
        QVERIFY(outcome);
        for (std::size_t mic = 0; mic < 3; ++mic) {
            const auto ours = score(detectedBy(session, *outcome, stems[mic]), truth[mic], tenMilliseconds);
            double usual = 0;
            const double best = bestAubio(mics[mic], truth[mic], usual);
            qInfo("%-6s F %.3f, median error %.3f ms, late %.1f %%   aubio hfc %.3f, with its best threshold %.3f",
                  stems[mic].c_str(), ours.f, ours.medianError / 48, 100 * ours.lateShare, usual, best);
            QVERIFY(ours.f >= 0.98);
            QVERIFY(ours.medianError <= 24);
            QVERIFY(ours.lateShare < 0.05);
            QVERIFY(ours.f >= best);
        }
    }
};

QTEST_APPLESS_MAIN(TestDetection)
#include "tst_detection.moc"
