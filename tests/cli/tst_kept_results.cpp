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
        row("at defaults", "", "551f38d939d1d4dc");
        row("eighths", "--grid 1/8", "9cfbb47776cdf5a9");
        row("triplets", "--grid 1/8t", "f7bb5b82f0374b12");
        row("strength and swing", "--strength 60 --swing 58", "13f2c1638c09272f");
        row("pocket and reach", "--pocket 8 --pull edge --reach 60", "ecdb13370290aa05");
        row("nearest lines", "--assign nearest --grid 1/4", "d4c0f964c191c254");
        row("open holes", "--fill open --lead-in 5 --fade 10", "ed3b6d575fdbc760");
        row("no lead-in", "--lead-in 0 --fade 1", "30931aa1b24b7365");
        row("separate strokes", "--guide kick_in,snare_top,hihat --one-hit 0", "4544afbee8b31ec8");
        row("the hat guides", "--guide kick_in,snare_top,hihat", "c969d0e3cd76b530");
        row("middle anchor", "--guide kick_in,snare_top,hihat --anchor middle", "f31220b088c46c5e");
        row("thresholds and gap", "--threshold kick_in=-4 --threshold snare_top=-10 --min-gap 200",
            "cd40a7a7496e66db");
        row("only kick and snare land", "--land kick,snare --guide kick_in,snare_top,tom_rack", "bb99089685dd71d5");
        row("comp", "--comp A:1-3,B:3-6.2,A:6.2-8", "1f16ad4013773f14");
        row("floating point", "--format wav32f", "bfc81c647e28514f");
        row("straight curves", "--curve decibels --fade 12", "09ddb16375f3a7cd");
        row("stretched tails", "--fill stretch --strength 80 --lead-in 6", "fec30361fb5da5d1");
        row("flac", "--format flac24", "b7c078b00b65da8b");
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
