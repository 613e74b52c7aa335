// What is printed and reported stays bit for bit what it was, until it is meant to change: then the new checksums,
// which the log shows, go in with the commit that says why.
#include "base/text.h"
#include "cli/cli_rig.h"
#include "support/built_kit.h"

#include <algorithm>
#include <xxhash.h>

using namespace lampo;
using namespace lampo::test;

namespace {

/// Of the names and bytes of all files in a folder, in the order of their names.
std::string sumOf(const std::filesystem::path& folder) {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(folder))
        files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    std::string all;
    for (const auto& file : files) {
        const std::string bytes = readBytes(file);
        all += file.filename().string() + hexadecimal(XXH3_64bits(bytes.data(), bytes.size()));
    }
    return hexadecimal(XXH3_64bits(all.data(), all.size()));
}

} // namespace

class TestKeptResults : public QObject {
    Q_OBJECT
    TempFolder folder_;

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
        row("at defaults", "", "d04c43589b84b191");
        row("eighths", "--grid 1/8", "750fa954d34335e0");
        row("triplets", "--grid 1/8t", "d0042c4638adabb6");
        row("strength and swing", "--strength 60 --swing 58", "da51144b52e3b9b2");
        row("pocket and reach", "--pocket 8 --pull edge --reach 60", "ee961e2e785213e1");
        row("nearest lines", "--assign nearest --grid 1/4", "72cce3d75791406c");
        row("open holes", "--fill open --lead-in 5 --fade 10", "eef0d8c3982074d1");
        row("no lead-in", "--lead-in 0 --fade 1", "b26cfcb381eefa25");
        row("loudest anchor", "--anchor loudest --one-hit 30", "d04c43589b84b191");
        row("thresholds and gap", "--threshold kick_in=-10 --threshold snare_top=-30 --min-gap 80",
            "d04c43589b84b191");
        row("only kick and snare land", "--land kick,snare --guide kick_in,snare_top,tom_rack", "563f16944ddc6059");
        row("comp", "--comp A:1-3,B:3-6.2,A:6.2-8", "ec6e19dd280c5a1e");
        row("floating point", "--format wav32f", "55c21128aa2eb623");
        row("flac", "--format flac24", "864a924817323eff");
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
        QCOMPARE(QString::fromStdString(sumOf(out)), sum);
    }
};

QTEST_GUILESS_MAIN(TestKeptResults)
#include "tst_kept_results.moc"
