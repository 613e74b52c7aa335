#include "cli/cli_rig.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "project/project_file.h"
#include "proof/proof.h"
#include "support/built_kit.h"

#include <set>

using namespace lampo;
using namespace lampo::test;

/// `lampo-cli proof`: its report, its exit codes, and prints that were worked on.
class TestCliProof : public QObject {
    Q_OBJECT
    TempFolder folder_;

    QStringList proof(const QString& report, const QStringList& more = {}) const {
        return QStringList{"proof",    text(folder_ / "take"),
                           "--tempo",  "104",
                           "--report", text(folder_ / report.toStdString())} +
               more;
    }
    QJsonArray placesOf(const QString& report, const QString& kind) const {
        QJsonArray of;
        for (const auto& each : json(folder_ / report.toStdString())["places"].toArray())
            if (each.toObject()["kind"].toString() == kind)
                of << each;
        return of;
    }

private slots:
    void initTestCase() {
        buildTake(folder_ / "take", 'B', 14, {"kick_in", "snare_top", "tom_rack", "overhead_left"});
        const auto printed = run({"edit", text(folder_ / "take"), "--tempo", "104", "--out",
                                  text(folder_ / "print"), "--report", text(folder_ / "edit.json")});
        QVERIFY2(printed.code == 0, qPrintable(printed.err));
    }

    /// Fields and kinds as docs/formats.md has them.
    void theReportIsAsPromised() {
        const auto done = run(proof("p.json"));
        QVERIFY2(done.code == 0, qPrintable(done.err));
        const auto report = json(folder_ / "p.json");
        QCOMPARE(report["schema"].toString(), QStringLiteral("lampo-proof-1"));
        const std::set<QString> kinds{"doubled-attack", "lost-attack",     "click", "dip",
                                      "stutter",        "swallowed-ring",  "flam",  "wrong-line",
                                      "loose",          "phase",           "level", "silent",
                                      "stretched",      "lost-correction", "map"};
        const std::set<QString> stems{"kick_in", "snare_top", "tom_rack", "overhead_left"};
        for (const auto& each : report["places"].toArray()) {
            const auto place = each.toObject();
            QVERIFY(kinds.contains(place["kind"].toString()));
            QVERIFY(place["gravity"].toDouble() >= 0 && place["gravity"].toDouble() <= 10);
            QVERIFY(!place["text"].toString().isEmpty());
            QVERIFY(place["at"].toInt() >= 0 && place["length"].toInt() > 0);
            QCOMPARE(place["state"].toString(), QStringLiteral("open"));
            QVERIFY(!place["mics"].toArray().isEmpty());
            for (const auto& mic : place["mics"].toArray())
                QVERIFY(stems.contains(mic.toString()));
        }
        const auto summary = report["summary"].toObject();
        QVERIFY(summary["hits"].toInt() > 20);
        QVERIFY(!summary["drums"].toArray().isEmpty());
        for (const auto& each : summary["drums"].toArray()) {
            const auto drum = each.toObject();
            QVERIFY(drum["after"].toObject()["within_5_ms"].toDouble() >=
                    drum["before"].toObject()["within_5_ms"].toDouble());
        }
        // The edit's own report has the same figures.
        QCOMPARE(json(folder_ / "edit.json")["proof"].toObject(), summary);
    }

    void aPrintThatWasSpoiled() {
        std::filesystem::copy(folder_ / "print", folder_ / "spoiled");
        const auto file = folder_.path() / "spoiled" / "snare_top.wav";
        auto sound = readAudio(file);
        for (std::size_t i = 200000; i < 200000 + 48000; ++i)
            sound[i] = 0;
        sound[400000] += 0.5F;
        std::filesystem::remove(file);
        writeAudio(file, sound);
        auto done = run(proof("s.json", {"--print", text(folder_ / "spoiled")}));
        QVERIFY2(done.code == 0, qPrintable(done.err));
        const auto silent = placesOf("s.json", "silent"), clicks = placesOf("s.json", "click");
        QCOMPARE(silent.size(), 1);
        QVERIFY(std::abs(silent[0].toObject()["at"].toInt() - 200000) < 2000);
        QCOMPARE(silent[0].toObject()["mics"].toArray(), QJsonArray{"snare_top"});
        QCOMPARE(clicks.size(), 1);
        QVERIFY(std::abs(clicks[0].toObject()["at"].toInt() - 400000) < 200);
        // As good as it was, the same print has none of this.
        done = run(proof("g.json", {"--print", text(folder_ / "print"), "--fail-on", "silent,click"}));
        QVERIFY2(done.code == 0, qPrintable(done.err));
        QVERIFY(placesOf("g.json", "silent").isEmpty() && placesOf("g.json", "click").isEmpty());
    }

    /// What the user called fine is told, and fails nothing.
    void answersAreOfTheProject() {
        Session session = *edited(*importFolder(folder_ / "take"), SetTempo{{104}});
        session = *edited(session,
                          DetectionEdit{Correct{
                              {Correction::Kind::remove, TakeLetter{'A'}, SourceFrame{480000}, {}, Voice::tom}}});
        const auto project = folder_.path() / "answered.lampo";
        QVERIFY(saveProject(session, project).has_value());
        const auto proved = [&] {
            return run(
                {"proof", text(project), "--report", text(folder_ / "w.json"), "--fail-on", "lost-correction"});
        };
        QCOMPARE(proved().code, 3);
        Analyses analyses;
        QVERIFY(analyseMissing(session, analyses, Listen::toWitnesses, {}).has_value());
        for (const ProofPlace& place : placesWithoutListening(session, *outcomeOf(session, analyses)))
            if (place.kind == ProofKind::lostCorrection)
                session = *edited(session, ProofEdit{{{place.kind, place.content, ProofState::fine, "seen"}}});
        QVERIFY(saveProject(session, project).has_value());
        QCOMPARE(proved().code, 0);
        const auto lost = placesOf("w.json", "lost-correction");
        QCOMPARE(lost.size(), 1);
        QCOMPARE(lost[0].toObject()["state"].toString(), QStringLiteral("fine"));
    }

    void exitCodes() {
        const QStringList spoiled{"--print", text(folder_ / "spoiled")};
        QCOMPARE(run(proof("a.json", spoiled + QStringList{"--fail-on", "silent"})).code, 3);
        QCOMPARE(run(proof("a.json", spoiled + QStringList{"--fail-on", "phase,click"})).code, 3);
        QCOMPARE(run(proof("a.json", spoiled + QStringList{"--fail-on", "phase"})).code, 0);
        QCOMPARE(run(proof("a.json", {"--fail-on", "whistling"})).code, 2);
        QCOMPARE(run({"proof", text(folder_ / "take")}).code, 2);
        const auto nothing = run(proof("n.json", {"--print", text(folder_ / "nowhere")}));
        QCOMPARE(nothing.code, 1);
        QVERIFY2(nothing.err.contains("nowhere"), qPrintable(nothing.err));
        QVERIFY(!std::filesystem::exists(folder_ / "n.json"));
        // The report is never written over the recording.
        const auto over = run({"proof", text(folder_ / "take"), "--report", text(folder_ / "take/kick_in.wav")});
        QCOMPARE(over.code, 1);
    }
};

QTEST_APPLESS_MAIN(TestCliProof)
#include "tst_cli_proof.moc"
