#include "deliver/report.h"
#include "support/given_song.h"

#include <nlohmann/json.hpp>

#include <QtTest>

#include <random>

using namespace lampo;

namespace {

struct Song : test::GivenSong {
    explicit Song(std::vector<Candidate> kicks, std::vector<Candidate> snares = {})
        : GivenSong(std::move(kicks), std::move(snares), FrameCount{480000}) {}
    bool warns(WarningKind kind) const {
        const auto made = outcome();
        return std::any_of(made->warnings.begin(), made->warnings.end(),
                           [&](auto& w) { return w.kind == kind && !w.text.empty(); });
    }
};

constexpr auto stroke = test::givenStroke;

} // namespace

class TestWarnings : public QObject {
    Q_OBJECT
private slots:
    void aCleanEditHasNothingToSay() {
        const Song song({stroke(24000), stroke(48100), stroke(71900)});
        QVERIFY(song.outcome()->warnings.empty());
    }
    void nothingFound() { QVERIFY(Song({}).warns(WarningKind::nothingFound)); }
    void farMovesAndLongHoles() {
        Song song({stroke(24000), stroke(48000), stroke(96000)});
        QVERIFY(!song.warns(WarningKind::movedFar));
        song.edit(
            Correct{{Correction::Kind::place, 'A', SourceFrame{48000}, FrameCount{4000}, Voice::kick}}); // 83 ms
        QVERIFY(song.warns(WarningKind::movedFar));
        QVERIFY(song.warns(WarningKind::longHole));
    }
    void neighboursHeldTogether() {
        Song song({stroke(24000)}, {stroke(24000 + 760)});
        song.session.clusters.window = {15}; // 15.8 ms: a flam just wider
        song.edit(Correct{{Correction::Kind::pin, 'A', SourceFrame{24000}, {}, Voice::kick}});
        song.session.corrections.push_back(
            {Correction::Kind::place, 'A', SourceFrame{24760}, FrameCount{1240}, Voice::snare});
        song.session.corrections.change(
            0, [](Correction& c) { c.at = SourceFrame{23900}; }); // nearer to the kick than to the snare
        QVERIFY(song.outcome()->landings.size() == 2);
        QVERIFY(song.warns(WarningKind::heldTogether));
    }
    void lostCorrections() {
        Song song({stroke(24000), stroke(48000)});
        song.edit(Correct{{Correction::Kind::remove, 'A', SourceFrame{90000}, {}, Voice::kick}});
        QVERIFY(song.warns(WarningKind::lostCorrection));
    }
    void aHitBetweenTwoLinesIsDoubtful() {
        // Alone in the middle between two sixteenths: it may mean either.
        const Song song({stroke(24000), stroke(48000), stroke(96000 + 3000), stroke(144000), stroke(168000)});
        QVERIFY(song.warns(WarningKind::doubtfulLine));
    }
    void worstFirst() {
        Song song({stroke(24000), stroke(48000), stroke(96000), stroke(144000)});
        song.edit(Correct{{Correction::Kind::place, 'A', SourceFrame{48000}, FrameCount{4000}, Voice::kick}});
        song.edit(Correct{{Correction::Kind::place, 'A', SourceFrame{96000}, FrameCount{6000}, Voice::kick}});
        const auto warnings = song.outcome()->warnings;
        QVERIFY(warnings.size() >= 2);
        QVERIFY(std::is_sorted(warnings.begin(), warnings.end(),
                               [](auto& a, auto& b) { return a.gravity > b.gravity; }));
        QCOMPARE(warnings.front().at.frame, 102000);
    }
    void theChainIsPure() {
        const Song song({stroke(24000), stroke(48321), stroke(71000)}, {stroke(36000), stroke(60000)});
        const auto once = song.outcome(), twice = song.outcome();
        QVERIFY(*once->plan == *twice->plan);
        QVERIFY(once->hits == twice->hits);
    }
    void theReportSaysWhatTheOutcomeSays() {
        std::mt19937 random(3);
        for (int round = 0; round < 30; ++round) {
            std::vector<Candidate> kicks, snares;
            for (std::int64_t at = 3000; at < 470000; at += std::uniform_int_distribution<>(1500, 20000)(random))
                (random() % 2 ? kicks : snares)
                    .push_back({SourceFrame{at}, {std::uniform_real_distribution<>(-30, 2)(random)}, {12}});
            Song song(kicks, snares);
            song.edit(SetFill{round % 3 == 0 ? Fill::open : Fill::borrow});
            song.edit(SetStrength{std::uniform_real_distribution<>(0, 100)(random)});
            const auto outcome = song.outcome();
            const auto report = nlohmann::json::parse(reportText(song.session, song.analyses, *outcome));
            QCOMPARE(report["hits"].size(), outcome->hits.size());
            QCOMPARE(report["seams"].size(), outcome->plan->seams.size());
            QVERIFY(report["slices"].size() > outcome->hits.size() / 2);
            QCOMPARE(report["warnings"].size(), outcome->warnings.size());
            for (std::size_t i = 0; i < outcome->landings.size(); ++i) {
                QCOMPARE(report["hits"][i]["landing"].get<std::int64_t>(), outcome->landings[i].at.frame);
                QCOMPARE(report["hits"][i]["source"].get<std::int64_t>(), outcome->hits[i].anchor.frame);
                QVERIFY(!report["hits"][i]["mics"].empty());
                QVERIFY(report["hits"][i]["beat"].get<double>() >= 1.0);
            }
            for (const auto& slice : report["slices"])
                QVERIFY(slice["result_end"].get<std::int64_t>() > slice["result_start"].get<std::int64_t>());
        }
    }
};

QTEST_APPLESS_MAIN(TestWarnings)
#include "tst_warnings.moc"
