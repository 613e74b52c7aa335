// A project that travels: everything in one folder, opened where that was moved to.
#include "deliver/print.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "import/source_search.h"
#include "pipeline/outcome.h"
#include "project/gather.h"
#include "project/project_file.h"
#include "support/built_kit.h"
#include "support/program.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <sys/stat.h>

using namespace lampo;
using namespace lampo::test;

namespace fs = std::filesystem;

class TestGather : public QObject {
    Q_OBJECT
    TempFolder folder_;
    Session session_;

    static std::shared_ptr<const Plan> planOf(const Session& session) {
        Analyses analyses;
        return analyseMissing(session, analyses, Listen::toWitnesses, {}) ? outcomeOf(session, analyses)->plan
                                                                          : nullptr;
    }

private slots:
    void initTestCase() {
        for (const char letter : {'A', 'B'})
            buildTake(folder_ / "disk one" / std::string(1, letter), letter, 6,
                      {"kick_in", "snare_top", "overhead_left"});
        session_ = *importFolder(folder_ / "disk one");
        session_.title = "Lighthouse / Relay";
        // Files of one name from elsewhere, one file that two mics share, something beside, a kept version.
        fs::create_directories(folder_ / "disk two");
        fs::copy(session_.takes[1].files[0].file, folder_ / "disk two" / "snare_top.wav");
        session_.takes[1].files.change(
            0, [&](SourceFile& file) { file.file = folder_ / "disk two" / "snare_top.wav"; });
        session_.takes[0].files.change(2, [&](SourceFile& file) { file.file = session_.takes[0].files[1].file; });
        session_.companions.push_back({"bass", SourceFile(folder_ / "disk two" / "snare_top.wav")});
        writeAudio(folder_ / "disk two" / "thud.wav", std::vector<float>(500, 0.1F));
        session_.samples.push_back({"thud", "snare_top", {{{0}, {SourceFile(folder_ / "disk two" / "thud.wav")}}}});
        session_ = *edited(session_, SetTempo{{104}});
        session_ = *edited(session_, KeepVersion{"first", "", {}});
        session_ = fingerprinted(session_);
    }

    void itOpensWhereItWasMovedTo() {
        const TempFolder place;
        const auto before = planOf(session_);
        const auto project = gather(session_, place / "sent", {});
        QVERIFY2(project.has_value(), project ? "" : project.error().sentence.c_str());
        QCOMPARE(project->filename().string(), std::string("Lighthouse - Relay.lampo"));
        fs::create_directories(place / "far");
        fs::rename(place / "sent", place.path() / "far" / "away");
        fs::rename(folder_ / "disk one", folder_ / "gone");
        fs::rename(folder_ / "disk two", folder_ / "gone two");
        const auto opened = loadProject(place.path() / "far" / "away" / project->filename());
        QVERIFY(opened.has_value());
        QVERIFY(checkSources(*opened).empty());
        for (const Take& take : opened->takes)
            for (const SourceFile& file : take.files)
                QVERIFY(file.file.string().starts_with((place / "far").string()));
        QVERIFY(opened->samples[0].layers[0].files[0].file.string().starts_with((place / "far").string()));
        QCOMPARE(opened->takes[0].files[1].file, opened->takes[0].files[2].file);  // shared still
        QVERIFY(opened->takes[1].files[0].file != opened->takes[1].files[1].file); // two of one name are two
        const auto after = planOf(*opened);
        QVERIFY(after->segments == before->segments && after->seams == before->seams);
        QVERIFY(checkSources(*opened->versions[0].session).empty());
        QProcess sums;
        sums.setWorkingDirectory(text(place.path() / "far" / "away"));
        sums.start("xxh128sum", {"--check", "--quiet", gatheredSums});
        QVERIFY(sums.waitForFinished() && sums.exitCode() == 0);
        QCOMPARE(QString::fromStdString(readBytes(place.path() / "far" / "away" / gatheredSums)).count('\n'),
                 7); // the project and six files
        fs::rename(folder_ / "gone", folder_ / "disk one");
        fs::rename(folder_ / "gone two", folder_ / "disk two");
    }

    void nothingIsLeftWhenItCannotBe_data() {
        QTest::addColumn<QString>("how");
        for (const char* how : {"a file is gone", "stopped", "not empty", "no right to write"})
            QTest::newRow(how) << how;
    }
    void nothingIsLeftWhenItCannotBe() {
        QFETCH(QString, how);
        const TempFolder place;
        Session session = session_;
        std::stop_source stop;
        const fs::path into = how == "no right to write" ? fs::path("/proc/nowhere") : place / "sent";
        if (how == "a file is gone")
            session.takes[1].files.change(1, [&](SourceFile& file) { file.file = folder_ / "not there.wav"; });
        if (how == "stopped")
            stop.request_stop();
        if (how == "not empty") {
            fs::create_directories(into);
            writeBytes(into / "mine.txt", "mine");
        }
        const auto gathered = gather(session, into, {{}, stop.get_token()});
        QVERIFY(!gathered);
        qInfo("%s", gathered.error().sentence.c_str());
        QCOMPARE(fs::exists(into), how == "not empty");
        if (how == "not empty")
            QCOMPARE(readBytes(into / "mine.txt"), std::string("mine"));
        if (how == "a file is gone")
            QVERIFY(gathered.error().sentence.find("\"not there.wav\"") != std::string::npos);
    }

    /// The recording itself is only read.
    void sourcesStayAsTheyAre() {
        const auto before = contents(folder_.path());
        const TempFolder place;
        QVERIFY(gather(session_, place / "sent", {}).has_value());
        QVERIFY(contents(folder_.path()) == before);
        QVERIFY(!gather(session_, folder_ / "disk one", {}).has_value());
        QVERIFY(contents(folder_.path()) == before);
    }
};

QTEST_GUILESS_MAIN(TestGather)
#include "tst_gather.moc"
