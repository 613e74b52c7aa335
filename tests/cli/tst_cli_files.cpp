#include "support/built_kit.h"
#include "support/program.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <csignal>
#include <sys/stat.h>
#include <unistd.h>

using namespace lampo;
using namespace lampo::test;

namespace fs = std::filesystem;

/// What lampo-cli writes, and what it never writes over.
class TestCliFiles : public QObject {
    Q_OBJECT
    TempFolder folder_;
    std::vector<std::pair<std::string, std::string>> recording_;

    static Run run(const QStringList& arguments) { return runProgram(LAMPO_CLI, arguments); }
    fs::path take() const { return folder_.path() / "take"; }
    QStringList hits(const fs::path& report) const { return {"hits", text(take()), "--report", text(report)}; }
    static int modeOf(const fs::path& file) {
        struct stat found {};
        return ::stat(file.c_str(), &found) == 0 ? static_cast<int>(found.st_mode & 0777) : -1;
    }

private slots:
    void initTestCase() {
        buildTake(take(), 'B', 3, {"kick_in", "snare_top"});
        recording_ = contents(take());
    }
    void cleanup() { QVERIFY(contents(take()) == recording_); }

    void aFileOfTheRecordingIsNeverReplaced_data() {
        QTest::addColumn<QString>("how");
        for (const char* how : {"the report", "through a link", "through a hard link",
                                "through a link to the folder", "a recording of links printed where they point"})
            QTest::newRow(how) << how;
    }
    void aFileOfTheRecordingIsNeverReplaced() {
        QFETCH(QString, how);
        const TempFolder place;
        fs::path report = take() / "kick_in.wav";
        if (how == "through a link")
            fs::create_symlink(report, place / "r.json"), report = place / "r.json";
        if (how == "through a hard link")
            fs::create_hard_link(report, place / "r.json"), report = place / "r.json";
        if (how == "through a link to the folder")
            fs::create_directory_symlink(take(), place / "t"), report = place.path() / "t" / "kick_in.wav";
        QStringList arguments = hits(report);
        if (how.startsWith("a recording")) {
            fs::create_directory(place / "links");
            for (const char* file : {"kick_in.wav", "snare_top.wav"})
                fs::create_symlink(take() / file, place.path() / "links" / file);
            arguments = QStringList{"edit", text(place / "links"), "--out", text(take())};
        }
        const Run refused = run(arguments);
        QCOMPARE(refused.code, 1);
        QVERIFY2(refused.err.contains("a file of the recording"), qPrintable(refused.err));
    }
    void whatStandsInTheWay() {
        const TempFolder place;
        fs::create_directory(place / "fifo");
        QCOMPARE(::mkfifo((place.path() / "fifo" / "kick_in.wav").c_str(), 0600), 0);
        QCOMPARE(run({"edit", text(take()), "--out", text(place / "fifo")}).code, 1); // and does not hang
        fs::create_directories(place.path() / "folder" / "kick_in.wav");
        QCOMPARE(run({"edit", text(take()), "--out", text(place / "folder")}).code, 1);
        fs::create_directory(place / "out");
        writeBytes(place.path() / "out" / "kick_in.wav.part", "mine");
        QCOMPARE(run({"edit", text(take()), "--out", text(place / "out")}).code, 0);
        QCOMPARE(readBytes(place.path() / "out" / "kick_in.wav.part"), std::string("mine"));
        fs::create_directories(place.path() / "demo" / "A");
        writeBytes(place.path() / "demo" / "A" / "kick_in.wav", "mine");
        QCOMPARE(run({"demo", text(place / "demo")}).code, 1);
        QCOMPARE(readBytes(place.path() / "demo" / "A" / "kick_in.wav"), std::string("mine"));
    }
    void permissionsAndLinksAreKept() {
        const TempFolder place;
        const auto report = place / "r.json";
        QCOMPARE(run(hits(report)).code, 0);
        const mode_t mask = ::umask(0);
        ::umask(mask);
        QCOMPARE(modeOf(report), static_cast<int>(0666 & ~mask));
        QCOMPARE(::chmod(report.c_str(), 0640), 0);
        fs::create_symlink("r.json", place / "alias.json");
        QCOMPARE(run(hits(place / "alias.json")).code, 0);
        QVERIFY(fs::is_symlink(place / "alias.json"));
        QCOMPARE(modeOf(report), 0640);
    }
    void oneOfManyAtOnce() {
        const TempFolder place;
        std::vector<std::unique_ptr<QProcess>> prints;
        for (const char* strength : {"0", "30", "60", "100"}) {
            prints.push_back(std::make_unique<QProcess>());
            prints.back()->start(LAMPO_CLI,
                                 {"edit", text(take()), "--out", text(place / "out"), "--strength", strength});
        }
        int done = 0;
        for (const auto& print : prints) {
            QVERIFY(print->waitForFinished(60000));
            const QString said = QString::fromUtf8(print->readAllStandardError());
            QVERIFY2(print->exitCode() == 0 || said.contains("Something else is being printed"), qPrintable(said));
            done += print->exitCode() == 0 ? 1 : 0;
        }
        QVERIFY(done >= 1);
        QCOMPARE(contents(place / "out").size(), std::size_t{2}); // and nothing is left over
    }
    void aSignalEndsItInOrder_data() {
        QTest::addColumn<int>("signal");
        QTest::newRow("SIGINT") << SIGINT;
        QTest::newRow("SIGTERM") << SIGTERM;
        QTest::newRow("SIGHUP") << SIGHUP;
    }
    void aSignalEndsItInOrder() {
        QFETCH(int, signal);
        const TempFolder place;
        QCOMPARE(run({"edit", text(take()), "--out", text(place / "out")}).code, 0);
        const auto before = contents(place / "out");
        QProcess print;
        print.start(LAMPO_CLI, {"edit", text(take()), "--out", text(place / "out"), "--strength", "10"});
        QVERIFY(print.waitForStarted());
        while (print.state() == QProcess::Running && !holdsBack(print.processId(), signal))
            QCoreApplication::processEvents();
        ::kill(static_cast<pid_t>(print.processId()), signal);
        QVERIFY(print.waitForFinished(60000));
        QCOMPARE(print.exitStatus(), QProcess::NormalExit);
        if (print.exitCode() != 0) { // it may have been faster
            QCOMPARE(print.exitCode(), 128 + signal);
            QVERIFY(contents(place / "out") == before);
        }
        QCOMPARE(contents(place / "out").size(), std::size_t{2});
    }
    void timesThatAreNone() {
        for (const char* time : {"nans", "infs", "1e300s", "9e18smp", "-9e18smp"})
            QCOMPARE(run({"hits", text(take()), "--report", text(folder_ / "never"), "--origin", time}).code, 2);
    }
    void whatCannotBeSaid() {
        QProcess info;
        info.setStandardOutputFile("/dev/full");
        info.start(LAMPO_CLI, {"info", text(take())});
        QVERIFY(info.waitForFinished(20000));
        QCOMPARE(info.exitCode(), 1);
        QProcess lost; // the folder it works in is gone
        const fs::path gone = folder_ / "gone";
        fs::create_directory(gone);
        lost.start("/bin/sh",
                   {"-c", "cd '" + text(gone) + "' && rmdir '" + text(gone) + "' && '" LAMPO_CLI "' info x"});
        QVERIFY(lost.waitForFinished(20000));
        QCOMPARE(lost.exitStatus(), QProcess::NormalExit);
        QCOMPARE(lost.exitCode(), 1);
        QVERIFY(lost.readAllStandardError().contains("folder that it was started in is gone"));
    }
    void namesThatAreNoText() {
        const TempFolder place;
        const fs::path odd = place.path() / std::string("b\xff");
        fs::create_directory(odd);
        fs::copy(take() / "kick_in.wav", odd / std::string("kick\xff\x1b[31m.wav"));
        QProcess process;
        process.start("/bin/sh",
                      {"-c", "cd '" + text(place.path()) + "' && '" LAMPO_CLI "' hits b* --report r.json"});
        QVERIFY(process.waitForFinished(20000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QVERIFY(process.exitCode() == 0 || process.exitCode() == 1);
        QVERIFY(!process.readAllStandardError().contains('\x1b'));
    }
};

QTEST_GUILESS_MAIN(TestCliFiles)
#include "tst_cli_files.moc"
