// What is printed and reported stays bit for bit what it was, until it is meant to change: then the new checksums,
// which the log shows, go in with the commit that says why.
#include "cli/cli_rig.h"
#include "support/built_kit.h"

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
        row("at defaults", "", "193a3fbc3076f06f");
        row("eighths", "--grid 1/8", "d4ee5ff49e109390");
        row("triplets", "--grid 1/8t", "50c26929a52741da");
        row("strength and swing", "--strength 60 --swing 58", "065cff6d78496ac1");
        row("pocket and reach", "--pocket 8 --pull edge --reach 60", "f3c8f4411df581b1");
        row("nearest lines", "--assign nearest --grid 1/4", "21abc70321655038");
        row("open holes", "--fill open --lead-in 5 --fade 10", "bd7d2e6a61f980ed");
        row("no lead-in", "--lead-in 0 --fade 1", "a7fc91c2f58a7187");
        row("separate strokes", "--guide kick_in,snare_top,hihat --one-hit 0", "f6c73bfa0326c1e4");
        row("the hat guides", "--guide kick_in,snare_top,hihat", "48d7895be5ba68a8");
        row("middle anchor", "--guide kick_in,snare_top,hihat --anchor middle", "2ebcd960a80c330e");
        row("thresholds and gap", "--threshold kick_in=-4 --threshold snare_top=-10 --min-gap 200",
            "9ecdcef8fa3b9a03");
        row("only kick and snare land", "--land kick,snare --guide kick_in,snare_top,tom_rack", "6599f0cc67bbdd09");
        row("comp", "--comp A:1-3,B:3-6.2,A:6.2-8", "87b8214c0bf4531a");
        row("floating point", "--format wav32f", "8755b84baac14dec");
        row("straight curves", "--curve decibels --fade 12", "dbbab7d62a6a742c");
        row("flac", "--format flac24", "62395ac9c2a2aab8");
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
        std::filesystem::copy(folder_ / "r.json", out / "report.json");
        const QString now = sumOf(out);
        QCOMPARE(now, sum);
        QVERIFY(!seen_.contains(now)); // a setting that changes nothing here holds nothing
        seen_.insert(now);
    }
};

QTEST_GUILESS_MAIN(TestKeptResults)
#include "tst_kept_results.moc"
