#include "support/built_kit.h"
#include "support/dice.h"
#include "support/program.h"
#include "support/temp_folder.h"

#include <QtTest>

using namespace lampo;
using namespace lampo::test;

/// Eleven mics played from disks that let one wait, in real time: what the ear misses.
class TestSlowDisks : public QObject {
    Q_OBJECT
    TempFolder folder_;

    struct Heard {
        int early = -1; ///< blocks missed in the first second
        int late = -1;  ///< and after it
        int longestWait = -1;
    };
    Heard heard(const QString& disk, double seconds, int jumps) const {
        QStringList slow;
        if (!disk.isEmpty())
            slow = {"LD_PRELOAD=" LAMPO_SLOW_DISK, "LAMPO_DISK=" + disk, "ASAN_OPTIONS=verify_asan_link_order=0"};
        const Run run = runProgram(LAMPO_PLAY_ONCE,
                                   {text(folder_.path()), QString::number(seconds), QString::number(jumps)}, slow);
        const QStringList figures = run.out.trimmed().split(' ');
        if (run.code != 0 || figures.size() != 3)
            return {};
        qInfo().noquote() << (disk.isEmpty() ? "fast" : disk) << ":" << run.out.trimmed();
        return {figures[0].toInt(), figures[1].toInt(), figures[2].toInt()};
    }

private slots:
    void initTestCase() {
        Dice dice(2);
        std::vector<float> noise(std::size_t{48000} * 60);
        for (float& sample : noise)
            sample = static_cast<float>(dice.between(-0.1, 0.1));
        for (const char* mic :
             {"kick", "snare", "snare under", "rack 1", "rack 2", "floor", "hat", "ride", "OH L", "OH R", "room"})
            writeAudio(folder_ / (std::string(mic) + ".wav"), noise);
    }
    void nothingIsMissed_data() {
        QTest::addColumn<QString>("disk");
        QTest::addColumn<int>("jumps");
        QTest::addColumn<int>("longestWait"); ///< ms until a place that was jumped to is heard
        QTest::newRow("no wait") << "" << 4 << 500;
        // 12 ms: a hard disk's seek and half a turn at 7,200 a minute (common practice, no source).
        QTest::newRow("one head") << "disk:12:100" << 4 << 1500;
        QTest::newRow("network") << "network:12:100" << 4 << 1000;
        QTest::newRow("far network") << "network:60:100" << 4 << 700; // one file after the other would take 1.3 s
        QTest::newRow("one stall of half a second") << "stall:500:3000" << 0 << 500;
        QTest::newRow("one stall of a second and a half") << "stall:1500:3000" << 0 << 500;
    }
    void nothingIsMissed() {
        QFETCH(QString, disk);
        QFETCH(int, jumps);
        QFETCH(int, longestWait);
        const Heard sound = heard(disk, 5, jumps);
        QCOMPARE(sound.late, 0);
        QVERIFY(sound.early >= 0);
        QVERIFY2(sound.longestWait < longestWait, qPrintable(QString::number(sound.longestWait)));
    }
    /// Eleven mics of 24 bits at 48 kHz are 1.6 MB a second; this disk gives one.
    void whatCannotBeHeardIsCounted() { QVERIFY(heard("disk:50:1", 3, 0).late > 50); }
};

QTEST_GUILESS_MAIN(TestSlowDisks)
#include "tst_slow_disks.moc"
