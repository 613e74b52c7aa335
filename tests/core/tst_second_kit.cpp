#include "edits/edit.h"
#include "import/folder_import.h"
#include "pipeline/outcome.h"
#include "support/aubio_onsets.h"
#include "support/built_kit.h"
#include "support/scoring.h"
#include "support/soundfont_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <numbers>
#include <random>

using namespace lampo;
using namespace lampo::test;

namespace {

constexpr std::int64_t tenMilliseconds = 480;

struct Found {
    Session session;
    std::shared_ptr<const Outcome> outcome;

    std::vector<std::int64_t> detectedBy(const std::string& stem) const {
        return places(
            [mic = session.micNamed(stem)](const Hit& hit) { return (hit.detectedBy & onlyMic(mic)) != 0; });
    }
    /// Hits whose anchor is this mic's: only those say where it heard the attack.
    std::vector<std::int64_t> anchoredBy(const std::string& stem) const {
        return places([mic = session.micNamed(stem)](const Hit& hit) { return hit.mic == mic; });
    }

private:
    std::vector<std::int64_t> places(const std::function<bool(const Hit&)>& which) const {
        std::vector<std::int64_t> at;
        for (const Hit& hit : outcome->hits)
            if (which(hit))
                at.push_back(hit.anchor.frame);
        return at;
    }
};

Found detect(const SoundfontKit& kit, double bpm, std::vector<lampo::Edit> edits = {}) {
    const TempFolder folder;
    for (std::size_t mic = 0; mic < kit.stems.size(); ++mic)
        writeAudio(folder / (kit.stems[mic] + ".wav"), kit.mics[mic], SampleFormat::wav24, {kit.rate});
    Found found{*importFolder(folder.path()), nullptr};
    edits.insert(edits.begin(), SetTempo{{bpm}});
    for (const auto& edit : edits)
        found.session = *edited(found.session, edit);
    Analyses analyses;
    if (analyseMissing(found.session, analyses, Listen::toWitnesses, {}))
        found.outcome = outcomeOf(found.session, analyses);
    return found;
}

struct Aubio {
    double ofDefault = 0, best = 0;
    double threshold = 0; ///< that gave the best
};

/// The best threshold for each mic, found by search.
Aubio aubio(const std::vector<float>& samples, int rate, const std::vector<std::int64_t>& truth) {
    Aubio result;
    result.ofDefault = result.best = score(aubioOnsets(samples, rate), truth, tenMilliseconds).f;
    for (const double threshold : {0.05, 0.1, 0.2, 0.4, 0.6, 0.8, 1.0, 1.4, 2.0, 3.0, 4.0, 6.0, 8.0})
        if (const double f = score(aubioOnsets(samples, rate, threshold), truth, tenMilliseconds).f;
            f > result.best)
            result.best = f, result.threshold = threshold;
    return result;
}

bool near(const std::vector<std::int64_t>& places, std::int64_t at) {
    const auto first = std::lower_bound(places.begin(), places.end(), at - tenMilliseconds);
    return first != places.end() && *first <= at + tenMilliseconds;
}

/// Hits of the snare's own guide that match no loud stroke, against the ghost notes.
double ghostF(const Found& found, const SoundfontKit& kit) {
    auto loud = kit.truth.at("snare");
    std::erase_if(loud, [&](auto at) { return std::binary_search(kit.ghosts.begin(), kit.ghosts.end(), at); });
    auto rest = found.detectedBy("snare");
    std::erase_if(rest, [&](auto at) { return near(loud, at); });
    return score(rest, kit.ghosts, tenMilliseconds).f;
}

/// Of all close mics together. Ghost notes are scored apart: here a found one counts neither for nor against.
double overallF(const Found& found, const SoundfontKit& kit) {
    std::size_t matched = 0, spoken = 0, meant = 0;
    for (const auto& [stem, strokes] : kit.truth) {
        auto hits = found.detectedBy(stem);
        auto truth = strokes;
        if (stem == "snare") {
            std::erase_if(truth,
                          [&](auto at) { return std::binary_search(kit.ghosts.begin(), kit.ghosts.end(), at); });
            std::erase_if(hits, [&](auto at) { return near(kit.ghosts, at) && !near(truth, at); });
        }
        matched += score(hits, truth, tenMilliseconds).matched;
        spoken += hits.size();
        meant += truth.size();
    }
    return 2.0 * static_cast<double>(matched) / static_cast<double>(spoken + meant);
}

} // namespace

/// A General MIDI kit with velocity layers and bleed by distance. Required at default settings: F ≥ 0.97, ghost
/// notes ≥ 0.85 with the snare's threshold lowered once, better than aubio's hfc at its best threshold in every
/// row.
class TestSecondKit : public QObject {
    Q_OBJECT
private slots:
    void tempos_data() {
        QTest::addColumn<double>("bpm");
        for (const double bpm : {96.0, 140.0, 180.0})
            QTest::addRow("%g BPM", bpm) << bpm;
    }
    void tempos() {
        QFETCH(double, bpm);
        const auto kit = soundfontKit(bpm, 24, 5);
        QVERIFY2(!kit.mics.empty(), "fluidsynth and timgm6mb-soundfont are needed");
        const auto found = detect(kit, bpm);
        QVERIFY(found.outcome);
        std::vector<std::int64_t> errors, allErrors;
        for (const auto& [stem, truth] : kit.truth) {
            const auto ours = score(found.detectedBy(stem), truth, tenMilliseconds);
            const auto theirs = aubio(kit.mics[*found.session.micNamed(stem)], kit.rate, truth);
            const auto placed = score(found.anchoredBy(stem), truth, tenMilliseconds);
            qInfo("%-10s %3zu strokes, F %.3f, median error %.3f ms, late %.1f %%   aubio hfc %.3f, best %.3f",
                  stem.c_str(), truth.size(), ours.f, placed.medianError / 48, 100 * placed.lateShare,
                  theirs.ofDefault, theirs.best);
            QVERIFY2(ours.f > theirs.best, stem.c_str());
            QVERIFY(placed.medianError <= 24);
            allErrors.insert(allErrors.end(), placed.errors.begin(), placed.errors.end());
            auto clear = truth;
            std::erase_if(clear, [&](auto at) {
                return std::find(kit.buried.begin(), kit.buried.end(), at) != kit.buried.end();
            });
            const auto clearly = score(found.anchoredBy(stem), clear, tenMilliseconds);
            errors.insert(errors.end(), clearly.errors.begin(), clearly.errors.end());
        }
        const double late = lateShare(errors);
        qInfo("late by more than 0.5 ms in %.1f %% (with soft strokes inside rolls %.1f %%), standard deviation "
              "%.2f ms",
              100 * late, 100 * lateShare(allErrors), spread(errors) / 48);
        QVERIFY(late < 0.05);
        QVERIFY(spread(errors) < 48);
        const double all = overallF(found, kit);
        const auto raised = detect(kit, bpm, {SetThreshold{*found.session.micNamed("snare"), {-30}}});
        const double ghosts = ghostF(raised, kit);
        qInfo("all F %.4f; ghost notes F %.3f, with the snare at −30 dB %.3f", all, ghostF(found, kit), ghosts);
        QVERIFY(all >= 0.97);
        QVERIFY(ghosts >= 0.85);
    }

    /// Measured and printed; the bounds only say that nothing falls apart.
    void robustness_data() {
        QTest::addColumn<double>("least");
        QTest::newRow("as it is") << 0.97;
        QTest::newRow("noise at -60 dBFS") << 0.95;
        QTest::newRow("noise at -40 dBFS") << 0.80;
        QTest::newRow("gain -30 dB") << 0.95;
        QTest::newRow("gain +6 dB, clipped") << 0.90;
        QTest::newRow("hum of 50 Hz") << 0.90;
        QTest::newRow("snare said to be a tom") << 0.85;
    }
    void robustness() {
        QFETCH(double, least);
        const QString what = QTest::currentDataTag();
        auto kit = soundfontKit(120, 16, 9);
        QVERIFY(!kit.mics.empty());
        std::mt19937 random(3);
        std::normal_distribution<float> noise;
        std::vector<lampo::Edit> edits;
        for (auto& mic : kit.mics)
            for (std::size_t i = 0; i < mic.size(); ++i) {
                const double phase = 2 * std::numbers::pi * 50 * static_cast<double>(i) / kit.rate;
                if (what.contains("-60"))
                    mic[i] += 0.001F * noise(random);
                else if (what.contains("-40"))
                    mic[i] += 0.01F * noise(random);
                else if (what.contains("-30"))
                    mic[i] *= 0.0316F;
                else if (what.contains("+6"))
                    mic[i] = std::clamp(2 * mic[i], -1.0F, 1.0F);
                else if (what.contains("hum"))
                    mic[i] += static_cast<float>(0.01 * std::sin(phase) + 0.004 * std::sin(3 * phase));
            }
        if (what.contains("tom"))
            edits.emplace_back(SetRole{1, Role::tom});
        const auto found = detect(kit, 120, edits);
        QVERIFY(found.outcome);
        const double f = overallF(found, kit);
        qInfo("%-22s F %.3f", qPrintable(what), f);
        QVERIFY(f >= least);
    }
};

QTEST_APPLESS_MAIN(TestSecondKit)
#include "tst_second_kit.moc"
