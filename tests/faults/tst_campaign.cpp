#include "base/file_set.h"
#include "faults/fault_runs.h"
#include "import/folder_import.h"
#include "project/project_file.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <sys/stat.h>

using namespace lampo;
using namespace lampo::test;

namespace {

namespace fs = std::filesystem;

/// How many rounds are drawn: a few in every run of the tests, more when LAMPO_ROUNDS says so. The seed is the
/// round, so that one that fails can be run alone: LAMPO_FIRST_ROUND.
std::uint64_t numberFrom(const char* variable, std::uint64_t otherwise) {
    const auto text = qgetenv(variable);
    return text.isEmpty() ? otherwise : text.toULongLong();
}

struct Rounds {
    std::uint64_t first = numberFrom("LAMPO_FIRST_ROUND", 1);
    std::uint64_t end = first + numberFrom("LAMPO_ROUNDS", 60);
};

/// A recording's bytes and times, links and other special files by their kind only.
std::vector<std::tuple<std::string, std::string, std::int64_t>> stateOf(const fs::path& folder) {
    std::vector<std::tuple<std::string, std::string, std::int64_t>> state;
    for (const auto& entry : fs::recursive_directory_iterator(folder)) {
        struct stat status {};
        ::lstat(entry.path().c_str(), &status);
        const bool plain = S_ISREG(status.st_mode);
        state.emplace_back(entry.path().string(), plain ? readBytes(entry.path()) : std::to_string(status.st_mode),
                           plain ? status.st_mtim.tv_sec * 1000000000 + status.st_mtim.tv_nsec : 0);
    }
    std::sort(state.begin(), state.end());
    return state;
}

/// Where a program that makes so many calls is killed: before one of them, in one, or, now and then, not at all.
QString drawnDeath(Dice& dice, int calls) {
    return (dice.chance(0.5) ? "kill:" : "tear:") + QString::number(1 + dice.upTo(calls + calls / 5));
}

/// Files that only a run that is under way may have.
bool holdsProvisional(const fs::path& folder) {
    if (!fs::is_directory(folder))
        return false;
    return std::any_of(fs::directory_iterator(folder), {},
                       [](const auto& entry) { return entry.path().filename().string().starts_with(".lampo-"); });
}

/// Makes a recording, a project or a MIDI file bad or odd, in one of many ways.
class Spoiler {
public:
    Spoiler(fs::path folder, Dice& dice) : folder_(std::move(folder)), dice_(dice) {}

    void spoil() {
        std::vector<fs::path> files;
        for (const auto& entry : fs::recursive_directory_iterator(folder_))
            if (fs::is_regular_file(fs::symlink_status(entry.path())))
                files.push_back(entry.path());
        std::sort(files.begin(), files.end());
        const fs::path file = one(files);
        if (file.extension() == ".lampo" && dice_.chance(0.8))
            spoilText(file);
        else if (dice_.chance(0.65))
            spoilBytes(file);
        else
            spoilName(file, one(files));
    }

private:
    template <class T>
    const T& one(const std::vector<T>& of) {
        return of[static_cast<std::size_t>(dice_.upTo(static_cast<int>(of.size()) - 1))];
    }
    std::size_t place(std::size_t end) {
        return static_cast<std::size_t>(dice_.between(0, static_cast<double>(end)));
    }

    void spoilBytes(const fs::path& file) {
        static const std::vector<std::string> words{{"\0\0\0\0", 4},
                                                    "\xff\xff\xff\xff",
                                                    "\xff\xff\xff\x7f",
                                                    {"\0\0\0\x80", 4},
                                                    {"\1\0\0\0", 4},
                                                    "RF64",
                                                    "data",
                                                    "LIST"};
        std::string bytes = readBytes(file);
        const std::size_t head = std::min<std::size_t>(bytes.size(), 120);
        switch (dice_.upTo(5)) {
        case 0:
            bytes.resize(place(dice_.chance(0.5) ? head : bytes.size()));
            break;
        case 1:
            bytes += std::string(place(100000), static_cast<char>(dice_.upTo(255)));
            break;
        case 2:
            bytes.clear();
            break;
        case 3:
            for (int flips = dice_.upTo(20); flips >= 0 && !bytes.empty(); --flips)
                bytes[place(bytes.size())] ^= static_cast<char>(1 << dice_.upTo(7));
            break;
        default:
            for (int flips = dice_.upTo(2); flips >= 0 && head > 8; --flips)
                bytes.replace(place(head / 4 - 1) * 4, 4, one(words));
        }
        writeBytes(file, bytes);
    }

    void spoilName(const fs::path& file, const fs::path& other) {
        static const std::vector<std::string> names{
            "a\nb.wav", "\xff\xfe.wav", "kick\x1b[31m.wav", "..wav",
            "kick.mp3", "-out.wav",     "snare (2).WAV",    std::string(240, 'k') + ".wav"};
        switch (dice_.upTo(7)) {
        case 0:
            fs::remove(file);
            fs::create_directory(file);
            break;
        case 1:
            fs::remove(file);
            fs::create_symlink("nowhere", file);
            break;
        case 2:
            fs::remove(file);
            fs::create_symlink(file.filename(), file); // at itself
            break;
        case 3:
            if (file != other) {
                fs::remove(file);
                fs::create_hard_link(other, file);
            }
            break;
        case 4:
            fs::remove(file);
            ::mkfifo(file.c_str(), 0600);
            break;
        case 5:
            fs::remove(file);
            break;
        default:
            fs::rename(file, file.parent_path() / one(names));
        }
    }

    /// A value somewhere in a project becomes another, or its text is cut or doubled.
    void spoilText(const fs::path& file) {
        static const std::vector<std::string> values{"-1",
                                                     "0",
                                                     "1e308",
                                                     "1e400",
                                                     "9223372036854775807",
                                                     "4611686018427387904",
                                                     "-9223372036854775808",
                                                     "18446744073709551616",
                                                     "0.0000001",
                                                     "null",
                                                     "true",
                                                     "\"\"",
                                                     "\"../../etc/x\"",
                                                     "\"/kick\"",
                                                     "\"a\\u0000b\"",
                                                     "\"\\ud800\"",
                                                     "[]",
                                                     "{}",
                                                     "[[[[[[[[[[[[[[[[[[[[]]]]]]]]]]]]]]]]]]]]",
                                                     "\"" + std::string(70000, 'x') + "\""};
        std::string text = readBytes(file);
        if (dice_.chance(0.15)) {
            const std::size_t from = place(text.size()), length = place(200);
            dice_.chance(0.5) ? text.erase(from, length) : text.insert(from, text.substr(from, length));
        } else {
            for (int changes = dice_.upTo(2); changes >= 0; --changes) {
                const std::size_t colon = text.find(": ", place(text.size()));
                if (colon == std::string::npos)
                    continue;
                const std::size_t end = text.find_first_of(",\n", colon);
                text.replace(colon + 2, end - colon - 2, one(values));
            }
        }
        writeBytes(file, text);
    }

    fs::path folder_;
    Dice& dice_;
};

QStringList oddOptions(Dice& dice) {
    static const QStringList names{
        "--tempo", "--origin",  "--grid", "--strength", "--swing",       "--pocket",  "--reach",
        "--meter", "--lead-in", "--fade", "--min-gap",  "--threshold",   "--one-hit", "--take",
        "--comp",  "--guide",   "--land", "--feel",     "--feel-amount", "--fill",    "--anchor"};
    static const QStringList values{
        "nan",  "inf",   "-0",    "1e300s",   "9e18smp", "-5",  "0",      "99999999999999999999",
        "",     " ",     "kick=", "kick=1e9", "=",       "1/0", "0/4",    "4/4",
        "1/65", "A:1-2", "Z",     "\xff",     "50",      "120", "borrow", "snare=-60"};
    QStringList options;
    for (int more = dice.upTo(2); more > 0; --more)
        options << names[dice.upTo(static_cast<int>(names.size()) - 1)]
                << values[dice.upTo(static_cast<int>(values.size()) - 1)];
    return options;
}

} // namespace

/// Bad inputs and kills drawn at random: whatever comes, there is an answer in a sentence, no half output, and the
/// recording is what it was.
class TestCampaign : public QObject {
    Q_OBJECT
    TempFolder folder_;

    fs::path template_ = folder_ / "template";

    QStringList drawnCommand(Dice& dice, const fs::path& all) {
        const QString input = text(dice.chance(0.5) ? all / "song.lampo" : all / "take");
        switch (dice.upTo(4)) {
        case 0:
            return QStringList{"info", input};
        case 1:
            return QStringList{"hits", input, "--report", text(all / "out.json")} + oddOptions(dice);
        case 2:
            return QStringList{"edit", input, "--tempo-map", text(all / "tempo.mid"), "--out", text(all / "out")};
        default:
            return QStringList{"edit", input, "--out", text(all / "out"), "--report", text(all / "out.json")} +
                   oddOptions(dice);
        }
    }

private slots:
    void initTestCase() {
        buildTake(template_ / "take", 'B', 2, {"kick_in", "snare_top", "overhead_left"});
        Session session = *importFolder(template_ / "take");
        for (std::int64_t at = 4000; at < 80000; at += 4000)
            session.corrections.push_back({Correction::Kind::pin, 'A', SourceFrame{at}});
        QVERIFY(saveProject(session, template_ / "song.lampo").has_value());
        QCOMPARE(
            runProgram(LAMPO_CLI, {"edit", text(template_ / "song.lampo"), "--out", text(folder_ / "probe")}).code,
            0);
        // Standard MIDI Files 1.0: one track with a tempo of 500,000 µs a quarter.
        writeBytes(template_ / "tempo.mid",
                   std::string("MThd\0\0\0\6\0\0\0\1\1\xe0MTrk\0\0\0\x0b\0\xff\x51\3\7\xa1\x20\0\xff\x2f\0", 33));
    }

    void badInputs() {
        int taken = 0, refused = 0;
        const Rounds rounds;
        for (std::uint64_t round = rounds.first; round < rounds.end; ++round) {
            Dice dice(round);
            const TempFolder place;
            const fs::path all = place / "all";
            fs::copy(template_, all, fs::copy_options::recursive);
            for (int faults = dice.upTo(2); faults >= 0; --faults)
                Spoiler(all, dice).spoil();
            const auto before = stateOf(all / "take");
            const auto command = drawnCommand(dice, all);
            const Run run = runProgram(LAMPO_CLI, command);
            const QByteArray said =
                QStringLiteral("round %1: %2\nexit %3: %4")
                    .arg(QString::number(round), command.join(' '), QString::number(run.code), run.err.left(600))
                    .toUtf8();
            QVERIFY2(run.code == 0 || run.code == 1 || run.code == 2, said);
            QVERIFY2(run.code == 0 || (!run.err.trimmed().isEmpty() && run.err.count('\n') <= 3), said);
            QVERIFY2(stateOf(all / "take") == before, said);
            QVERIFY2(!holdsProvisional(all / "out") && !holdsProvisional(all), said);
            QVERIFY2(run.code == 0 || !fs::exists(all / "out"), said);
            ++(run.code == 0 ? taken : refused);
        }
        qInfo("%d taken, %d refused", taken, refused);
        QVERIFY(taken > 0 && refused > 0);
    }

    /// Killed at any call, over an earlier print, again and again: all of it is old or all of it new, once what was
    /// killed between two names has been finished by its journal; and the next print works.
    void killedPrints() {
        const fs::path take = template_ / "take";
        const auto print = [&](const fs::path& out, const char* strength) {
            return QStringList{"edit", text(take), "--tempo", "104", "--out", text(out), "--strength", strength};
        };
        const fs::path out = folder_ / "killed";
        QCOMPARE(runProgram(LAMPO_CLI, print(out, "60")).code, 0);
        const auto other = contents(out);
        const int calls = callsOf(LAMPO_CLI, print(out, "100"));
        QVERIFY(calls > 0);
        const auto one = contents(out);
        QVERIFY(one != other);
        const auto recording = stateOf(take);
        const auto shown = [&] {
            auto files = contents(out);
            std::erase_if(files,
                          [](const auto& f) { return fs::path(f.first).filename().string().starts_with("."); });
            return files;
        };
        int changed = 0, unchanged = 0;
        const Rounds rounds;
        bool isOne = true;
        for (std::uint64_t round = rounds.first; round < rounds.end; ++round) {
            Dice dice(round);
            const QString death = drawnDeath(dice, calls);
            runStruck(LAMPO_CLI, print(out, isOne ? "60" : "100"), death);
            finishInterrupted(out);
            const auto now = shown();
            QVERIFY2(now == one || now == other, qPrintable(QString("round %1, %2").arg(round).arg(death)));
            QVERIFY(stateOf(take) == recording);
            ++(isOne == (now == one) ? unchanged : changed);
            isOne = now == one;
        }
        qInfo("%d left as it was, %d finished", unchanged, changed);
        QVERIFY(unchanged > 0 && changed > 0);
        QCOMPARE(runProgram(LAMPO_CLI, print(out, "100")).code, 0);
        QVERIFY(contents(out) == one); // and what the killed ones left is gone
    }

    /// The same of saves.
    void killedSaves() {
        const fs::path project = folder_ / "saved.lampo";
        QVERIFY(saveProject(*importFolder(template_ / "take"), project).has_value());
        const int calls = callsOf(LAMPO_SAVE_ONCE, {text(project), "Ahead"});
        QVERIFY(calls > 0);
        const std::string ahead = readBytes(project);
        QCOMPARE(runProgram(LAMPO_SAVE_ONCE, {text(project), "Behind"}).code, 0);
        const std::string behind = readBytes(project);
        const Rounds rounds;
        for (std::uint64_t round = rounds.first; round < rounds.end; ++round) {
            Dice dice(round);
            const bool wasAhead = readBytes(project) == ahead;
            const QString death = drawnDeath(dice, calls);
            runStruck(LAMPO_SAVE_ONCE, {text(project), wasAhead ? "Behind" : "Ahead"}, death);
            const std::string now = readBytes(project);
            QVERIFY2(now == ahead || now == behind, qPrintable(QString("round %1, %2").arg(round).arg(death)));
        }
    }
};

QTEST_APPLESS_MAIN(TestCampaign)
#include "tst_campaign.moc"
