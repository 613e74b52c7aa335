#include "base/file_set.h"
#include "base/protected_files.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

using namespace lampo;
using namespace lampo::test;

namespace {

namespace fs = std::filesystem;

ProvisionalFile complete(const fs::path& wanted, std::string_view text) {
    auto file = ProvisionalFile::beside(wanted);
    if (!file || !file->write(text) || !file->sync())
        qFatal("%s could not be written", wanted.c_str());
    return std::move(*file);
}

std::string journalText(const std::vector<std::string>& fields) {
    std::string text;
    for (const std::string& field : fields)
        (text += field) += '\0';
    return text;
}

std::string inodeOf(const fs::path& file) {
    struct stat found {};
    ::lstat(file.c_str(), &found);
    return std::to_string(found.st_ino);
}

} // namespace

/// Files are written whole or not at all, over nothing that is somebody's. What happens when a call fails or the
/// program is killed: tst_faults.
class TestFiles : public QObject {
    Q_OBJECT
private slots:
    void whatIsMissingOrTooLargeIsNamed() {
        const TempFolder folder;
        const auto missing = readWhole(folder / "x.mid", 10, "MIDI file");
        QCOMPARE(missing.error().kind, ErrorKind::notFound);
        QVERIFY(missing.error().sentence.starts_with("There is no MIDI file \"x.mid\""));
        QVERIFY(writeAtomically(folder / "x.mid", "eleven bytes").has_value());
        const auto large = readWhole(folder / "x.mid", 10, "MIDI file");
        QCOMPARE(large.error().kind, ErrorKind::tooLarge);
        QCOMPARE(large.error().sentence, std::string("\"x.mid\" is too large to be a MIDI file"));
    }
    void aProvisionalFileIsNobodysElse() {
        const TempFolder folder;
        {
            const ProvisionalFile one = complete(folder / "a.txt", "one"),
                                  other = complete(folder / "a.txt", "two");
            QVERIFY(one.path() != other.path());
            QVERIFY(isProvisionalName(one.path().filename().string()));
            QVERIFY(!fs::exists(folder / "a.txt"));
            QVERIFY(
                complete(folder / "a.txt", "three").commit().has_value()); // removes nothing that is being written
            QVERIFY(fs::exists(one.path()) && fs::exists(other.path()));
        }
        QCOMPARE(contents(folder.path()).size(), std::size_t{1}); // what was not named is gone
        QCOMPARE(readBytes(folder / "a.txt"), std::string("three"));
    }
    void whatAKilledWriterLeftIsRemoved() {
        const TempFolder folder;
        const std::string left = provisionalName();
        writeBytes(folder / left, "half");
        for (const char* others : {".lampo-x.part", "a.part", ".lampo-0123456789abcdeg.part"})
            writeBytes(folder / others, "mine");
        fs::create_directory(folder / ".lampo-0123456789abcdef.part");
        QVERIFY(writeAtomically(folder / "a.txt", "text").has_value());
        QVERIFY(!fs::exists(folder / left));
        QCOMPARE(contents(folder.path()).size(), std::size_t{4}); // three of others, and the text
        QVERIFY(fs::exists(folder / ".lampo-0123456789abcdef.part"));
    }
    void linksAreFollowed() {
        const TempFolder folder;
        fs::create_directory(folder / "real");
        fs::create_symlink("real/a.txt", folder / "one");
        fs::create_symlink("one", folder / "two");
        QVERIFY(writeAtomically(folder / "two", "text").has_value()); // though nothing was there
        QVERIFY(fs::is_symlink(folder / "one") && fs::is_symlink(folder / "two"));
        QCOMPARE(readBytes(folder.path() / "real" / "a.txt"), std::string("text"));
    }
    void namesAreGivenTogether() {
        const TempFolder folder, elsewhere;
        writeBytes(folder / "a", "old a");
        writeBytes(elsewhere / "r", "old r");
        {
            auto set = FileSet::in(folder.path());
            QVERIFY(set.has_value());
            QVERIFY(!FileSet::in(folder.path())); // one at a time
            for (const auto& [file, text] :
                 {std::pair(folder / "a", "new a"), {folder / "b", "new b"}, {elsewhere / "r", "new r"}})
                set->add(complete(file, text));
            QCOMPARE(readBytes(folder / "a"), std::string("old a"));
            QVERIFY(set->commit().has_value());
        }
        QCOMPARE(contents(folder.path()).size(), std::size_t{2});
        QCOMPARE(contents(elsewhere.path()).size(), std::size_t{1});
        QCOMPARE(readBytes(folder / "a") + readBytes(folder / "b") + readBytes(elsewhere / "r"),
                 std::string("new anew bnew r"));
        {
            auto set = FileSet::in(folder / "fresh");
            set->add(complete(folder.path() / "fresh" / "a", "text"));
        }
        QVERIFY(!fs::exists(folder / "fresh")); // nothing was named: not even the folder is there
    }
    void whatWasInterruptedIsFinished() {
        const TempFolder folder;
        writeBytes(folder / "a", "old");
        const std::string waiting = provisionalName();
        writeBytes(folder / waiting, "new");
        writeBytes(folder / namesJournal, journalText({"lampo-names-1", waiting, "a", inodeOf(folder / waiting)}));
        QVERIFY(writeAtomically(folder / "other", "text").has_value()); // takes nothing from what waits
        QCOMPARE(readBytes(folder / waiting), std::string("new"));
        finishInterrupted(folder.path());
        QCOMPARE(readBytes(folder / "a"), std::string("new"));
        QVERIFY(!fs::exists(folder / namesJournal));
        finishInterrupted(folder.path()); // nothing more to do
        QVERIFY(writeAtomically(folder / "other", "text").has_value());
        QCOMPARE(contents(folder.path()).size(), std::size_t{2}); // what was replaced is gone
    }
    void aHostileJournalDoesNoHarm_data() {
        QTest::addColumn<int>("row");
        for (int row = 0; row < 7; ++row)
            QTest::addRow("%d", row) << row;
    }
    void aHostileJournalDoesNoHarm() {
        QFETCH(int, row);
        const TempFolder folder, victim;
        writeBytes(victim / "precious", "precious");
        writeBytes(folder / "mine", "mine");
        const std::string ours = provisionalName();
        writeBytes(folder / ours, "bad");
        const std::string there = (victim / "precious").string(), inode = inodeOf(folder / ours);
        const std::vector<std::vector<std::string>> journals{
            {"lampo-names-1", ours, there, inode}, // into another folder
            {"lampo-names-1", ours, "../" + victim.path().filename().string() + "/precious", inode},
            {"lampo-names-1", there, "mine", inodeOf(victim / "precious")}, // somebody's file
            {"lampo-names-1", "mine", "yours", inodeOf(folder / "mine")},
            {"lampo-names-1", ours, "mine", "1"}, // not the file it was
            {"lampo-names-2", ours, "mine", inode},
            {"lampo-names-1", ours},
        };
        writeBytes(folder / namesJournal, journalText(journals[static_cast<std::size_t>(row)]));
        finishInterrupted(folder.path());
        QCOMPARE(readBytes(victim / "precious"), std::string("precious"));
        QCOMPARE(contents(victim.path()).size(), std::size_t{1});
        QCOMPARE(readBytes(folder / "mine"), std::string("mine"));
    }
    void whatIsProtected() {
        const TempFolder folder;
        writeBytes(folder / "source", "x");
        fs::create_symlink("source", folder / "link");
        fs::create_hard_link(folder / "source", folder / "hard");
        fs::create_directory_symlink(folder.path(), folder / "again");
        ProtectedFiles files;
        files.add(folder / "source", "the source");
        files.add(folder / "not there", "the plan");
        for (const fs::path& target :
             {folder / "source", folder / "link", folder / "hard", folder.path() / "again" / "source",
              folder.path() / "again" / ".." / folder.path().filename() / "source"}) {
            const auto refused = files.mayWrite(target);
            QVERIFY2(!refused, target.c_str());
            QVERIFY(refused.error().sentence.find("is the source") != std::string::npos);
        }
        QVERIFY(!files.mayWrite(folder.path() / "again" / "not there"));
        QVERIFY(files.mayWrite(folder / "other"));
    }
    void textFromOutside() {
        QCOMPARE(visible("Über ½ 日本"), std::string("Über ½ 日本"));
        QCOMPARE(visible("a\n\x1b[31m\x7f"), std::string("a\\x0a\\x1b[31m\\x7f"));
        QCOMPARE(visible("\xff\xc3"), std::string("\\xff\\xc3"));
        QCOMPARE(visible("\xc0\xaf\xed\xa0\x80"),
                 std::string("\\xc0\\xaf\\xed\\xa0\\x80"));       // overlong, a surrogate
        QCOMPARE(visible("\xc2\x85"), std::string("\\xc2\\x85")); // C1
    }
    void namesOfFiles() {
        for (const char* name : {"kick", "Über 1.wav", "..x", "a b"})
            QVERIFY(isFileName(name) && asFileName(name) == name);
        for (const char* text : {"", ".", "..", "/", "a/b", "../x", "a\nb"})
            QVERIFY2(!isFileName(text) && isFileName(asFileName(text)), text);
        std::string longest(longestFileName - 1, 'a');
        QCOMPARE(asFileName(longest + "ü"), longest); // not in the middle of a character
    }
};

QTEST_APPLESS_MAIN(TestFiles)
#include "tst_files.moc"
