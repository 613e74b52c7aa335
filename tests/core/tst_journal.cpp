#include "base/text.h"
#include "edits/edit.h"
#include "project/journal.h"
#include "support/journal_line.h"
#include "support/random_timing_edit.h"
#include "support/temp_folder.h"

#include "import/folder_import.h"

#include <QtTest>

#include <random>
#include <sys/wait.h>
#include <unistd.h>

using namespace lampo;
using namespace lampo::test;

namespace {

Session song() {
    Session session;
    session.title = "Über den Kai";
    session.rate = {48000};
    session.mics = kitOf({"kick", "snare"});
    Take take{'A', "/rec/A", {}, {}, FrameCount{480000}};
    for (const Mic& mic : session.mics)
        take.files.emplace_back(take.folder / (mic.stem + ".wav"), 0, FrameCount{}, FrameCount{480000});
    session.takes = {take};
    return session;
}

/// `count` random steps behind each other.
HistoryState history(const Session& base, int count, unsigned seed) {
    std::mt19937 random(seed);
    HistoryState made;
    Session now = base;
    while (static_cast<int>(made.steps.size()) < count) {
        const auto next =
            random() % 4 == 0
                ? edited(now,
                         Correct{{Correction::Kind::pin, 'A', SourceFrame{static_cast<int>(random() % 400000)}}})
                : edited(now, randomTimingEdit(random));
        if (!next || *next == now)
            continue;
        now = *next;
        made.steps.push_back(std::make_shared<const HistoryStep>(
            HistoryStep{"Step " + std::to_string(made.steps.size() + 1) + ": früher", now}));
    }
    made.done = made.steps.size();
    return made;
}

void verifySame(const HistoryState& read, const HistoryState& written) {
    QCOMPARE(read.steps.size(), written.steps.size());
    QCOMPARE(read.done, written.done);
    QVERIFY(read.saved == written.saved);
    for (std::size_t step = 0; step < read.steps.size(); ++step) {
        QCOMPARE(read.steps[step]->label, written.steps[step]->label);
        QVERIFY(read.steps[step]->after == written.steps[step]->after);
    }
}

} // namespace

/// Work that is not saved yet, on the disk.
class TestJournal : public QObject {
    Q_OBJECT
private slots:
    void allComesBack() {
        const TempFolder folder;
        const auto file = folder.path() / "new" / "a.journal";
        const Session base = song();
        HistoryState all = history(base, 40, 1);
        {
            auto journal = Journal::begin(file, "/p/kai.lampo", base);
            QVERIFY2(journal.has_value(), journal ? "" : journal.error().sentence.c_str());
            std::mt19937 random(2);
            HistoryState now;
            for (std::size_t step = 0; step < all.steps.size(); ++step) { // some at once, some by themselves
                now.steps.push_back(all.steps[step]);
                now.done = now.steps.size();
                if (random() % 3 == 0)
                    QVERIFY(journal->write(now).has_value());
            }
            now.saved = 5;
            now.done = 30; // ten were undone,
            QVERIFY(journal->write(now).has_value());
            now.steps.resize(30); // and gave way to another
            now.steps.push_back(history(now.steps.back()->after, 1, 9).steps.front());
            now.done = 31;
            QVERIFY(journal->write(now).has_value());
            all = now;
            QVERIFY(!isLeft(file));
        }
        QVERIFY(isLeft(file));
        const auto read = readJournal(file);
        QVERIFY2(read.has_value(), read ? "" : read.error().sentence.c_str());
        QCOMPARE(read->project.string(), std::string("/p/kai.lampo"));
        QVERIFY(read->base == base);
        QVERIFY(!read->history.isSaved());
        verifySame(read->history, all);
        const auto last = readJournal(file, 10);
        QCOMPARE(last->history.steps.size(), std::size_t{10});
        QVERIFY(last->base == all.steps[20]->after);
        QVERIFY(last->history.steps.back()->after == all.steps.back()->after);
        QVERIFY(!last->history.saved);
    }
    /// As those that name a mic of the longest name there can be.
    void stepsWithLongNamesComeBack() {
        const TempFolder folder;
        const auto file = folder / "a.journal";
        const Session base = song();
        HistoryState one = history(base, 1, 3);
        HistoryStep step = *one.steps[0];
        step.label.assign(limits::text + 20, 'x');
        one.steps[0] = std::make_shared<const HistoryStep>(step);
        {
            auto journal = Journal::begin(file, {}, base);
            QVERIFY(journal->write(one).has_value());
        }
        const auto read = readJournal(file);
        QVERIFY2(read.has_value(), read ? "" : read.error().sentence.c_str());
        verifySame(read->history, one);
    }
    /// A line with the right sum may still hold anything.
    void numbersOutOfRangeAreRefused_data() {
        QTest::addColumn<QString>("key");
        for (const char* key : {"at", "done", "saved", "keep", "head", "tail"})
            QTest::newRow(key) << QString(key);
    }
    void numbersOutOfRangeAreRefused() {
        QFETCH(QString, key);
        const TempFolder folder;
        const auto file = folder / "a.journal";
        const Session base = song();
        {
            HistoryState all = history(base, 3, 3);
            all.saved = 1;
            auto journal = Journal::begin(file, {}, base);
            QVERIFY(journal->write(all).has_value());
        }
        const auto lines = split(readBytes(file), '\n');
        QVERIFY(lines.size() >= 2 && readJournal(file).has_value());
        QString record = QString::fromStdString(lines[1].substr(17));
        record.replace(QRegularExpression("\"" + key + "\":-?[0-9]+"), "\"" + key + "\":17956960E64");
        const std::string text = record.toStdString();
        QVERIFY(text != lines[1].substr(17));
        writeBytes(file, lines[0] + '\n' + journalLine(text));
        const auto read = readJournal(file);
        QVERIFY(!read);
        QCOMPARE(QString::fromStdString(read.error().sentence), QString("\"a.journal\" is not a journal of Lampo"));
    }
    /// Torn anywhere: what was synced before is there, in order, and nothing else.
    void whatIsTornOffIsMissing() {
        const TempFolder folder;
        const auto file = folder / "a.journal";
        const Session base = song();
        const HistoryState all = history(base, 12, 3);
        {
            auto journal = Journal::begin(file, {}, base);
            for (std::size_t step = 1; step <= all.steps.size(); ++step)
                QVERIFY(journal->write({{all.steps.begin(), all.steps.begin() + static_cast<long>(step)}, step, {}})
                            .has_value());
        }
        const std::string whole = readBytes(file);
        std::size_t most = 0;
        for (std::size_t size = 0; size < whole.size(); size += 97) {
            writeBytes(file, whole.substr(0, size));
            const auto read = readJournal(file);
            if (!read)
                continue; // not even the first record
            QVERIFY(read->history.steps.size() >= most);
            most = read->history.steps.size();
            for (std::size_t step = 0; step < most; ++step)
                QVERIFY(read->history.steps[step]->after == all.steps[step]->after);
        }
        QCOMPARE(most, all.steps.size() - 1);
        std::mt19937 random(5);
        for (int round = 0; round < 300; ++round) { // and damaged anywhere
            std::string bad = whole;
            bad[std::uniform_int_distribution<std::size_t>(0, bad.size() - 1)(random)] ^=
                static_cast<char>(std::uniform_int_distribution<>(1, 255)(random));
            writeBytes(file, bad);
            if (const auto read = readJournal(file))
                for (std::size_t step = 0; step < read->history.steps.size(); ++step)
                    QVERIFY(read->history.steps[step]->after == all.steps[step]->after);
        }
    }
    void oneAtATime() {
        const TempFolder folder;
        auto first = Journal::begin(folder / "a.journal", "/p/kai.lampo", song());
        QVERIFY(first.has_value());
        QVERIFY(first->write(history(song(), 2, 1)).has_value());
        const auto second = Journal::begin(folder / "a.journal", "/p/kai.lampo", song());
        QVERIFY(!second);
        QVERIFY(second.error().sentence.find("open in another window") != std::string::npos);
        QCOMPARE(readJournal(folder / "a.journal")->history.steps.size(), std::size_t{2}); // untouched
        first->remove();
        QVERIFY(!std::filesystem::exists(folder / "a.journal"));
    }
    void otherFilesAreRefused() {
        const TempFolder folder;
        QVERIFY(!readJournal(folder / "none"));
        for (const char* text : {"", "{}", "0123456789abcdef {}\n", "\n\n"}) {
            writeBytes(folder / "x", text);
            QVERIFY(!readJournal(folder / "x"));
        }
    }
    /// Killed at random moments of writing: what was said to be written is there.
    void killed() {
        const TempFolder folder;
        const auto file = folder / "a.journal";
        const Session base = song();
        const HistoryState all = history(base, 30, 7);
        std::mt19937 random(8);
        const int rounds = qEnvironmentVariableIntValue("LAMPO_ROUNDS"); // as in tst_campaign
        for (int round = 0; round < std::max(40, rounds); ++round) {
            int said[2];
            QCOMPARE(pipe(said), 0);
            const pid_t child = fork();
            if (child == 0) {
                auto journal = Journal::begin(file, {}, base);
                for (std::size_t step = 1; journal && step <= all.steps.size(); ++step) {
                    const bool written =
                        journal->write({{all.steps.begin(), all.steps.begin() + static_cast<long>(step)}, step, {}})
                            .has_value();
                    const char byte = static_cast<char>(step);
                    if (written && ::write(said[1], &byte, 1) != 1)
                        break;
                }
                ::_exit(0);
            }
            ::close(said[1]);
            char last = 0;
            const int wanted = std::uniform_int_distribution<>(0, 29)(random);
            for (int read = 0; read < wanted && ::read(said[0], &last, 1) == 1; ++read)
                ;
            ::kill(child, SIGKILL);
            for (char more = 0; ::read(said[0], &more, 1) == 1;)
                last = more;
            ::close(said[0]);
            int status = 0;
            ::waitpid(child, &status, 0);
            const auto read = readJournal(file);
            if (last == 0)
                continue;
            QVERIFY(read.has_value());
            QVERIFY(read->history.steps.size() >= static_cast<std::size_t>(last));
            for (std::size_t step = 0; step < read->history.steps.size(); ++step)
                QVERIFY(read->history.steps[step]->after == all.steps[step]->after);
        }
    }
};

QTEST_APPLESS_MAIN(TestJournal)
#include "tst_journal.moc"
