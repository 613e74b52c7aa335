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
        row("at defaults", "", "565292e4fef9d8f1");
        row("eighths", "--grid 1/8", "1a2b672e61208a89");
        row("triplets", "--grid 1/8t", "2e5a22fea63b9f4e");
        row("strength and swing", "--strength 60 --swing 58", "2b3c62e3e4205d57");
        row("pocket and reach", "--pocket 8 --pull edge --reach 60", "2f9c1ac7721cd75c");
        row("nearest lines", "--assign nearest --grid 1/4", "3dfb3b3a717c41e5");
        row("open holes", "--fill open --lead-in 5 --fade 10", "111fa850e9cc6c77");
        row("no lead-in", "--lead-in 0 --fade 1", "d19505a7cb567112");
        row("separate strokes", "--guide kick_in,snare_top,hihat --one-hit 0", "a7406635502b9ca5");
        row("the hat guides", "--guide kick_in,snare_top,hihat", "cf609a6773dcff51");
        row("middle anchor", "--guide kick_in,snare_top,hihat --anchor middle", "052827f12a4e1f60");
        row("thresholds and gap", "--threshold kick_in=-4 --threshold snare_top=-10 --min-gap 200",
            "84b9079c63e15f45");
        row("only kick and snare land", "--land kick,snare --guide kick_in,snare_top,tom_rack", "3d53d578a13dae2e");
        row("comp", "--comp A:1-3,B:3-6.2,A:6.2-8", "609a4981b34bfc64");
        row("floating point", "--format wav32f", "ae9e9b48df82c628");
        row("straight curves", "--curve decibels --fade 12", "8f47202b95317792");
        row("stretched tails", "--fill stretch --strength 80 --lead-in 6", "1c5122f8cfa0da1a");
        row("flac", "--format flac24", "73ee33fd90ee3d47");
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
