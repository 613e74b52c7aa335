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
        row("at defaults", "", "0598886c3393d520");
        row("eighths", "--grid 1/8", "81af4d2e1f162e89");
        row("triplets", "--grid 1/8t", "5bd1b000aeea34da");
        row("strength and swing", "--strength 60 --swing 58", "2ce13be7ce91f312");
        row("pocket and reach", "--pocket 8 --pull edge --reach 60", "14d4768dddd0735b");
        row("nearest lines", "--assign nearest --grid 1/4", "4ffe8487c63bfabd");
        row("open holes", "--fill open --lead-in 5 --fade 10", "c465d28d9900c2ee");
        row("no lead-in", "--lead-in 0 --fade 1", "8fda2f4d74cc509a");
        row("separate strokes", "--guide kick_in,snare_top,hihat --one-hit 0", "6b537a212f9f3ec2");
        row("the hat guides", "--guide kick_in,snare_top,hihat", "f25483f8d73d7173");
        row("middle anchor", "--guide kick_in,snare_top,hihat --anchor middle", "c96fb76882db6c1b");
        row("thresholds and gap", "--threshold kick_in=-4 --threshold snare_top=-10 --min-gap 200",
            "667436e2d70c5772");
        row("only kick and snare land", "--land kick,snare --guide kick_in,snare_top,tom_rack", "1955f9a773d68ffc");
        row("comp", "--comp A:1-3,B:3-6.2,A:6.2-8", "9c1b05a3e3938cef");
        row("floating point", "--format wav32f", "b55097b2e0b29669");
        row("straight curves", "--curve decibels --fade 12", "0cb867e4af04eb93");
        row("stretched tails", "--fill stretch --strength 80 --lead-in 6", "2f89f0bda2c6dda5");
        row("flac", "--format flac24", "904c6c550ab2a2f0");
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
