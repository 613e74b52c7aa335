// What is printed and reported stays bit for bit what it was, until it is meant to change: then the new checksums,
// which the log shows, go in with the commit that says why.
#include "cli/cli_rig.h"
#include "support/built_kit.h"

#include <nlohmann/json.hpp>

#include <fstream>

#include <QCryptographicHash>
#include <QSet>

#include <algorithm>

using namespace lampo;
using namespace lampo::test;

namespace {

/// Of the names and bytes of all files in a folder, in the order of their names.
QString sumOf(const std::filesystem::path& folder) {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    QCryptographicHash sum(QCryptographicHash::Sha256);
    for (const auto& file : files)
        sum.addData(QByteArray::fromStdString(file.filename().string() + readBytes(file)));
    return sum.result().toHex().left(16);
}

} // namespace

class TestKeptResults : public QObject {
    Q_OBJECT
    TempFolder folder_;
    QSet<QString> seen_;

private slots:
    void initTestCase() {
        for (const char letter : {'A', 'B'})
            buildTake(folder_ / std::string(1, letter), letter, 20,
                      {"kick_in", "snare_top", "snare_bottom", "tom_rack", "tom_floor", "hihat", "overhead_left"});
    }

    void printsAndReports_data() {
        QTest::addColumn<QString>("options");
        QTest::addColumn<QString>("sum");
        const auto row = [](const char* name, const char* options, const char* sum) {
            QTest::newRow(name) << options << sum;
        };
        row("at defaults", "", "3ec8024d4e94091f");
        row("eighths", "--grid 1/8", "f8fcb831833a65fb");
        row("triplets", "--grid 1/8t", "75b8ce8ece02e337");
        row("strength and swing", "--strength 60 --swing 58", "b6a1b74eb6a81651");
        row("pocket and reach", "--pocket 8 --pull edge --reach 60", "28baf72653199ebd");
        row("nearest lines", "--assign nearest --grid 1/4", "5687c2a6616e8485");
        row("open holes", "--fill open --lead-in 5 --fade 10", "70f0551888c36f54");
        row("no lead-in", "--lead-in 0 --fade 1", "1fac0466a3a990c8");
        row("separate strokes", "--guide kick_in,snare_top,hihat --one-hit 0", "17f2a885019317d6");
        row("the hat guides", "--guide kick_in,snare_top,hihat", "11c2d16bd77a4714");
        row("middle anchor", "--guide kick_in,snare_top,hihat --anchor middle", "5229f4c08162fbf1");
        row("thresholds and gap", "--threshold kick_in=-4 --threshold snare_top=-10 --min-gap 200",
            "9e988c2b7f567c09");
        row("only kick and snare land", "--land kick,snare --guide kick_in,snare_top,tom_rack", "a56c638f02955adb");
        row("comp", "--comp A:1-3,B:3-6.2,A:6.2-8", "d0f9a85c777de20f");
        row("floating point", "--format wav32f", "a242fc509cbb5c0d");
        row("straight curves", "--curve decibels --fade 12", "5bdf75bc2f90c915");
        row("stretched tails", "--fill stretch --strength 80 --lead-in 6", "3ac53935fba3d856");
        row("flac", "--format flac24", "833e52fedee22678");
    }
    void printsAndReports() {
        QFETCH(QString, options);
        QFETCH(QString, sum);
        const auto out = folder_ / "out";
        std::filesystem::remove_all(out);
        QStringList arguments{"edit",
                              "--take",
                              "A=" + text(folder_ / "A"),
                              "--take",
                              "B=" + text(folder_ / "B"),
                              "--out",
                              text(out),
                              "--report",
                              text(folder_ / "r.json"),
                              "--tempo",
                              "104"};
        arguments += options.split(' ', Qt::SkipEmptyParts);
        const auto done = run(arguments);
        QVERIFY2(done.code == 0, qPrintable(done.err));
        // What listening found is judged by the tests of the proof; all else is held here.
        auto report = nlohmann::json::parse(readBytes(folder_ / "r.json"));
        QCOMPARE(report.erase("proof"), std::size_t{1});
        std::ofstream(out / "report.json") << report.dump(1, ' ') << '\n';
        const QString now = sumOf(out);
        QCOMPARE(now, sum);
        QVERIFY(!seen_.contains(now)); // a setting that changes nothing here holds nothing
        seen_.insert(now);
    }
};

QTEST_GUILESS_MAIN(TestKeptResults)
#include "tst_kept_results.moc"
