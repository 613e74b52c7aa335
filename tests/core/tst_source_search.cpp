#include "audio/fingerprint.h"
#include "import/folder_import.h"
#include "import/source_search.h"
#include "project/project_file.h"
#include "project/project_json.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/temp_folder.h"

#include <QtTest>

using namespace lampo;
using namespace lampo::test;

namespace {

namespace fs = std::filesystem;
using Kind = SourceProblem::Kind;
using By = FoundSource::By;

void writeNoise(const fs::path& file, unsigned seed, std::size_t frames = 90000) {
    fs::create_directories(file.parent_path());
    Dice dice(seed);
    std::vector<float> samples(frames);
    for (float& sample : samples)
        sample = static_cast<float>(dice.between(-0.5, 0.5));
    writeAudio(file, samples);
}

} // namespace

/// Files of the recording that moved, changed or are gone, and what is found in their place.
class TestSourceSearch : public QObject {
    Q_OBJECT
    std::unique_ptr<TempFolder> folder_;
    Session session_;
    fs::path take(const char* file) const { return folder_->path() / "take" / file; }

private slots:
    void init() {
        folder_ = std::make_unique<TempFolder>();
        unsigned seed = 1;
        for (const char* file : {"kick.wav", "snare.wav", "hat.wav"})
            writeNoise(take(file), seed++);
        session_ = *importFolder(folder_->path() / "take");
        QVERIFY(checkSources(session_).empty());
    }
    void whatIsWrongIsToldFileByFile() {
        fs::remove(take("hat.wav"));
        writeNoise(take("kick.wav"), 9);
        writeNoise(take("snare.wav"), 2, 89999);
        const auto problems = checkSources(session_);
        QCOMPARE(problems.size(), std::size_t{3}); // sorted by path
        QVERIFY(problems[0].kind == Kind::missing && problems[0].mic == "hat of take A");
        QVERIFY(problems[1].kind == Kind::otherContent);
        QVERIFY(problems[2].kind == Kind::otherLength);
        for (const auto& problem : problems)
            QVERIFY(problem.error.sentence.find(problem.wanted.file.filename().string()) != std::string::npos);
        writeBytes(take("kick.wav"), "no sound");
        QVERIFY(checkSources(session_)[1].kind == Kind::unreadable);
    }
    void theProjectRemembersTheContent() {
        const auto project = folder_->path() / "song.lampo";
        QVERIFY(saveProject(session_, project).has_value());
        writeNoise(take("snare.wav"), 77); // the same name, length and size
        const auto opened = loadProject(project);
        QCOMPARE(checkSources(*opened).size(), std::size_t{1});
        QVERIFY(checkSources(*opened)[0].kind == Kind::otherContent);
        QVERIFY(!openInput(project)); // what is printed without a look is refused
        // A project from before fingerprints is as it is.
        Session old = *opened;
        old.takes[0].files.changeEach([](SourceFile& file) {
            file.content = 0;
            return true;
        });
        QVERIFY(checkSources(old).empty());
        QVERIFY(checkSources(fingerprinted(old)).empty() && fingerprinted(old).takes[0].files[0].content != 0);
    }
    /// Another stretch of at least a ninth of the file is always noticed, wherever it lies.
    void changedStretchesAreNoticed() {
        const auto good = *fingerprintOf(take("kick.wav"));
        Dice dice(4);
        for (const std::size_t frames : {std::size_t{30000}, std::size_t{90000}, std::size_t{2000000}}) {
            writeNoise(folder_->path() / "x.wav", 5, frames);
            const auto bytes = readBytes(folder_->path() / "x.wav");
            const auto before = *fingerprintOf(folder_->path() / "x.wav");
            QVERIFY(before != good);
            for (int round = 0; round < 10; ++round) {
                auto other = bytes;
                const auto length = static_cast<int>((bytes.size() + 8) / 9);
                const auto at = dice.upTo(static_cast<int>(bytes.size()) - length);
                for (int i = 0; i < length; ++i)
                    other[static_cast<std::size_t>(at + i)] ^= 1;
                writeBytes(folder_->path() / "x.wav", other);
                QVERIFY(*fingerprintOf(folder_->path() / "x.wav") != before);
            }
        }
    }
    void filesAreFoundByNameLengthAndContent() {
        const auto away = folder_->path() / "disk" / "deep";
        fs::create_directories(away);
        fs::rename(take("kick.wav"), away / "kick.wav");
        fs::rename(take("snare.wav"), away / "SN renamed.wav");
        fs::remove(take("hat.wav"));
        writeNoise(away / "hat.wav", 50);                                 // name and length, of another content
        writeNoise(folder_->path() / "disk" / "a" / "kick.wav", 51);      // the same, before the right one
        writeNoise(folder_->path() / "disk" / "a" / "snare.wav", 52, 10); // the right name, too short
        fs::create_directory_symlink(folder_->path() / "disk", away / "loop");
        writeBytes(away / "broken.wav", "RIFF");
        const auto problems = checkSources(session_);
        const auto found = findSources(problems, session_.rate, folder_->path() / "disk", {});
        QVERIFY(found.has_value());
        QVERIFY((*found)[0]->by == By::nameAndLength && (*found)[0]->relocation.to == away / "hat.wav");
        QVERIFY((*found)[1]->by == By::content && (*found)[1]->relocation.to == away / "kick.wav");
        QVERIFY((*found)[2]->by == By::content && (*found)[2]->relocation.to == away / "SN renamed.wav");

        std::vector<Relocation> relocations;
        for (const auto& one : *found)
            relocations.push_back(one->relocation);
        Session with = session_;
        with.versions = {{"Rough", "2026-11-20 18:05", {}, std::make_shared<const Session>(session_)}};
        const Session moved = relocated(with, relocations);
        QVERIFY(checkSources(moved).empty() && checkSources(*moved.versions[0].session).empty());
        QCOMPARE(moved.takes[0].length, session_.takes[0].length);
        QCOMPARE(moved.takes[0].folder, away);
        QCOMPARE(relocated(with, {relocations[0]}).takes[0].folder,
                 folder_->path() / "take"); // two still lie there
    }
    void anotherLengthMakesAnotherTake() {
        writeNoise(take("kick.wav"), 1, 100000);
        const auto problems = checkSources(session_);
        const auto now = takeInstead(problems[0], session_.rate, take("kick.wav"));
        QVERIFY(now.has_value());
        const Session moved = relocated(session_, {now->relocation});
        QVERIFY(checkSources(moved).empty());
        QCOMPARE(moved.takes[0].length.frames, std::int64_t{100000});
    }
    void lookingCanBeStoppedAndRefused() {
        fs::remove(take("hat.wav"));
        const auto problems = checkSources(session_);
        std::stop_source stop;
        stop.request_stop();
        const auto stopped = findSources(problems, session_.rate, folder_->path(), {{}, stop.get_token()});
        QVERIFY(!stopped && stopped.error().kind == ErrorKind::cancelled);
        const auto nowhere = findSources(problems, session_.rate, folder_->path() / "nowhere", {});
        QVERIFY(!nowhere && nowhere.error().sentence.find("nowhere") != std::string::npos);
        QVERIFY(!(*findSources(problems, session_.rate, folder_->path(), {}))[0]);
    }
};

QTEST_APPLESS_MAIN(TestSourceSearch)
#include "tst_source_search.moc"
