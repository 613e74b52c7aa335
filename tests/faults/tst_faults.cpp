#include "base/whole_file.h"
#include "faults/fault_runs.h"
#include "import/folder_import.h"
#include "project/project_file.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <map>

using namespace lampo;
using namespace lampo::test;

namespace {

namespace fs = std::filesystem;

using Files = std::vector<std::pair<std::string, std::string>>;

/// Without what is provisional.
Files shown(const fs::path& folder) {
    Files files = contents(folder);
    std::erase_if(files,
                  [](const auto& file) { return fs::path(file.first).filename().string().starts_with("."); });
    return files;
}

std::map<std::string, fs::file_time_type> times(const fs::path& folder) {
    std::map<std::string, fs::file_time_type> found;
    for (const auto& entry : fs::recursive_directory_iterator(folder))
        found[entry.path().string()] = entry.last_write_time();
    return found;
}

} // namespace

/// Every system call with which something is written fails once, and is once the last: what was there before is
/// there, or all that was to be.
class TestFaults : public QObject {
    Q_OBJECT
    TempFolder folder_;

    QStringList edit(const fs::path& out, const char* strength, const fs::path& report) {
        return {
            "edit",    text(folder_ / "take"), "--tempo",  "104",       "--out", text(out), "--strength", strength,
            "--guide", "kick_in,snare_top",    "--report", text(report)};
    }

    void checkPrint(bool fresh, const QString& mode) {
        const TempFolder place;
        const fs::path all = place / "all", out = all / "print", report = all / "r.json";
        fs::create_directories(all);
        if (!fresh)
            QCOMPARE(runProgram(LAMPO_CLI, edit(out, "100", report)).code, 0);
        const Files before = shown(all);
        fs::copy(all, place / "kept", fs::copy_options::recursive);
        const auto again = edit(out, "60", report);
        const int calls = callsOf(LAMPO_CLI, again);
        QVERIFY2(calls > 40, qPrintable(QString::number(calls)));
        const Files after = shown(all);
        QVERIFY(before != after);
        const Files source = contents(folder_ / "take");
        const auto sourceTimes = times(folder_ / "take");
        int unharmed = 0;
        for (int call = 1; call <= calls; ++call) {
            fs::remove_all(all);
            fs::copy(place / "kept", all, fs::copy_options::recursive);
            const Run struck = runStruck(LAMPO_CLI, again, mode + ":" + QString::number(call));
            const QString where = mode + " " + QString::number(call) + ": " + struck.err;
            if (mode == "kill") { // the next one into this folder, which itself cannot write
                QCOMPARE(struck.code, -1);
                // What is written there before the next print takes nothing from what waits for its name.
                QVERIFY(writeAtomically(out / ".other", "text") || fresh);
                QCOMPARE(runProgram(LAMPO_CLI, edit(out, "60", folder_ / "take")).code, 1);
            } else {
                QVERIFY2(struck.code == 0 || (struck.code == 1 && struck.err.count('\n') == 1), qPrintable(where));
            }
            const Files now = shown(all);
            QVERIFY2(now == before || now == after, qPrintable(where));
            if (mode == "fail")
                QVERIFY2(struck.code != 0 ? now == before : now == after, qPrintable(where));
            unharmed += now == after;
            QVERIFY(contents(folder_ / "take") == source && times(folder_ / "take") == sourceTimes);
        }
        QVERIFY(unharmed < calls);
    }

private slots:
    void initTestCase() { buildTake(folder_ / "take", 'B', 3, {"kick_in", "snare_top", "overhead_left"}); }
    void prints_data() {
        QTest::addColumn<bool>("fresh");
        QTest::addColumn<QString>("mode");
        QTest::newRow("a call fails, into a new folder") << true << "fail";
        QTest::newRow("a call fails, over an earlier print") << false << "fail";
        QTest::newRow("killed, into a new folder") << true << "kill";
        QTest::newRow("killed, over an earlier print") << false << "kill";
        QTest::newRow("a call fails where names cannot be exchanged") << false << "fail";
        QTest::newRow("killed where names cannot be exchanged") << false << "kill";
    }
    void prints() {
        QFETCH(bool, fresh);
        QFETCH(QString, mode);
        const bool exchanges = !QByteArray(QTest::currentDataTag()).contains("cannot be exchanged");
        exchanges ? qunsetenv("LAMPO_NO_EXCHANGE") : qputenv("LAMPO_NO_EXCHANGE", "1");
        checkPrint(fresh, mode);
        qunsetenv("LAMPO_NO_EXCHANGE");
    }
    void saves_data() {
        QTest::addColumn<QString>("mode");
        QTest::newRow("a call fails") << "fail";
        QTest::newRow("killed") << "kill";
        QTest::newRow("killed while it writes") << "tear";
    }
    void saves() {
        QFETCH(QString, mode);
        const TempFolder place;
        const auto project = place / "song.lampo";
        Session session = *importFolder(folder_ / "take");
        QVERIFY(saveProject(session, project).has_value());
        const std::string before = readBytes(project);
        const QStringList arguments{text(project), "Behind"};
        const int calls = callsOf(LAMPO_SAVE_ONCE, arguments);
        const std::string after = readBytes(project);
        QVERIFY(calls >= 5 && before != after);
        for (int call = 1; call <= calls; ++call) {
            writeBytes(project, before);
            const Run struck = runStruck(LAMPO_SAVE_ONCE, arguments, mode + ":" + QString::number(call));
            const std::string now = readBytes(project);
            QVERIFY(now == before || now == after);
            if (mode == "fail")
                QVERIFY(struck.code == 0 ? now == after : now == before && struck.err.count('\n') == 1);
            QCOMPARE(runProgram(LAMPO_SAVE_ONCE, arguments).code, 0); // and nothing is left over
            QCOMPARE(contents(place.path()).size(), std::size_t{1});
        }
    }
};

QTEST_APPLESS_MAIN(TestFaults)
#include "tst_faults.moc"
