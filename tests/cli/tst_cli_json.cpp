// Everything that is written as JSON fits its schema, by Debian's JSON Schema validator.
#include "cli/cli_rig.h"
#include "support/built_kit.h"

using namespace lampo;
using namespace lampo::test;

namespace fs = std::filesystem;

class TestCliJson : public QObject {
    Q_OBJECT
    /// By the schemas in docs/schemas, which may speak of each other.
    static Run validated(const fs::path& file, const char* schema) {
        const QString script = QStringLiteral(
            "import json,sys,glob\n"
            "from jsonschema import Draft202012Validator, RefResolver\n"
            "all={s['$id']: s for s in (json.load(open(f)) for f in glob.glob(sys.argv[1]+'/*.schema.json'))}\n"
            "for s in all.values(): Draft202012Validator.check_schema(s)\n"
            "s=all[sys.argv[2]]\n"
            "v=Draft202012Validator(s,resolver=RefResolver(sys.argv[2],s,store=all))\n"
            "e=[str(x.message)[:200]+' at '+'/'.join(map(str,x.path)) for x in "
            "v.iter_errors(json.load(open(sys.argv[3])))]\n"
            "print('\\n'.join(e[:5])); sys.exit(1 if e else 0)\n");
        return runProgram("python3", {"-c", script, LAMPO_SCHEMAS, schema, text(file)});
    }

private slots:
    void jsonFitsItsSchemas() {
        const TempFolder out;
        buildTake(out / "pier", 'A', 8, {"kick_in", "snare_top", "tom_rack", "overhead_left", "overhead_right"});
        QCOMPARE(run({"edit", text(out / "pier"), "--tempo", "104", "--out", text(out / "p"), "--interchange",
                      text(out / "e.otio"), "--fill", "stretch", "--report", text(out / "r.json")})
                     .code,
                 0);
        for (const auto& [file, schema] : {std::pair{"e.otio", "timeline"}, {"r.json", "lampo-report-1"}}) {
            const Run fits = validated(out / file, schema);
            QVERIFY2(fits.code == 0, qPrintable(fits.out + fits.err));
        }
        // And the validator sees what is wrong.
        std::string broken = readBytes(out / "e.otio");
        broken.replace(broken.find("\"kind\": \"Audio\""), 15, "\"kind\": \"Smell\"");
        writeBytes(out / "broken.otio", broken);
        QVERIFY(validated(out / "broken.otio", "timeline").code != 0);
        const auto timeline = json(out / "e.otio");
        QCOMPARE(timeline["tracks"].toObject()["children"].toArray().size(), 5);
    }

    /// What lies in docs/examples fits the schemas and has the members that are written today. With LAMPO_EXAMPLES
    /// set, they are written anew there.
    void examplesFit() {
        const TempFolder out;
        buildTake(out / "pier", 'A', 5, {"kick_in", "snare_top", "overhead_left"});
        fs::create_directories(out / "jetty");
        writeBytes(out / "jetty" / "kick_in.wav", "no sound");
        writeBytes(out / "songs.txt", "pier\njetty\n");
        const QString before = QDir::currentPath();
        QDir::setCurrent(text(out.path())); // paths as they are given: an example has none of this machine's
        const auto made = [](const QStringList& arguments, int code = 0) {
            return run(arguments + QStringList{"--tempo", "104"}).code == code;
        };
        const bool all = made({"edit", "pier", "--out", "prints", "--report", "report.json", "--interchange",
                               "edit.otio", "--csv", "tables"}) &&
                         made({"proof", "pier", "--report", "proof.json"}) &&
                         made({"batch", "songs.txt", "--out", "all"}, 1);
        QDir::setCurrent(before);
        QVERIFY(all);
        fs::rename(out.path() / "all" / "summary.json", out / "batch.json");
        const fs::path examples = fs::path(LAMPO_SCHEMAS).parent_path() / "examples";
        const auto renew = [](const fs::path& file) {
            if (const QByteArray folder = qgetenv("LAMPO_EXAMPLES"); !folder.isEmpty())
                fs::copy_file(file, fs::path(folder.toStdString()) / file.filename(),
                              fs::copy_options::overwrite_existing);
        };
        for (const auto& [file, schema] : {std::pair{"edit.otio", "timeline"},
                                           {"report.json", "lampo-report-1"},
                                           {"proof.json", "lampo-proof-1"},
                                           {"batch.json", "lampo-batch-1"}}) {
            renew(out / file);
            for (const fs::path& each : {out / file, examples / file}) {
                const Run fits = validated(each, schema);
                QVERIFY2(fits.code == 0, qPrintable(fits.out + fits.err));
            }
            QCOMPARE(json(examples / file).keys(), json(out / file).keys());
        }
        for (const char* name : {"hits.csv", "slices.csv", "seams.csv", "figures.csv"}) {
            renew(out.path() / "tables" / name);
            QCOMPARE(table(examples / name)[0], table(out.path() / "tables" / name)[0]);
        }
    }
};

QTEST_GUILESS_MAIN(TestCliJson)
#include "tst_cli_json.moc"
