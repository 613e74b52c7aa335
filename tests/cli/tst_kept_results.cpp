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
        row("at defaults", "", "aee98e9be6e7ecfe");
        row("eighths", "--grid 1/8", "1b6f8db7e46d849c");
        row("triplets", "--grid 1/8t", "44f090edcc915a7d");
        row("strength and swing", "--strength 60 --swing 58", "c5f79c7fe953f526");
        row("pocket and reach", "--pocket 8 --pull edge --reach 60", "5676f73931db06d2");
        row("nearest lines", "--assign nearest --grid 1/4", "bd183bdcfc7858d2");
        row("open holes", "--fill open --lead-in 5 --fade 10", "c1f7357d50ad2d82");
        row("no lead-in", "--lead-in 0 --fade 1", "fee2677bbc9d3221");
        row("separate strokes", "--guide kick_in,snare_top,hihat --one-hit 0", "73dc6e2776f819db");
        row("the hat guides", "--guide kick_in,snare_top,hihat", "dde8f4ce286c0d9f");
        row("middle anchor", "--guide kick_in,snare_top,hihat --anchor middle", "b43740cfd930916a");
        row("thresholds and gap", "--threshold kick_in=-4 --threshold snare_top=-10 --min-gap 200",
            "dabd9947bc2c459f");
        row("only kick and snare land", "--land kick,snare --guide kick_in,snare_top,tom_rack", "24e766058e20c07c");
        row("comp", "--comp A:1-3,B:3-6.2,A:6.2-8", "ea3f9f86c85a439b");
        row("floating point", "--format wav32f", "778329b972cf0642");
        row("straight curves", "--curve decibels --fade 12", "bee2379465315809");
        row("stretched tails", "--fill stretch --strength 80 --lead-in 6", "2d84b275feee7325");
        row("flac", "--format flac24", "eef8097243be1620");
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
