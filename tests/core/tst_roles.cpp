#include "import/folder_import.h"
#include "session/session.h"

#include <QtTest>

using namespace lampo;

/// What names of files tell: which drum a mic stands at, in which order, which of them guide.
class TestRoles : public QObject {
    Q_OBJECT
private slots:
    void roles_data() {
        QTest::addColumn<QString>("stem");
        QTest::addColumn<int>("role");
        const auto row = [](const char* stem, Role role) { QTest::newRow(stem) << stem << static_cast<int>(role); };
        for (const char* stem : {"kick", "Kick In", "BD_out", "01 Kick", "kik-sub", "bass drum", "KickIn",
                                 "Grosse caisse", "Kick Trig"})
            row(stem, Role::kick);
        for (const char* stem : {"snare_top", "SN Bot", "SnTop_02", "SD1", "Snr", "Caisse claire", "Snaredrum"})
            row(stem, Role::snare);
        for (const char* stem : {"tom 1", "Rack2", "Floor Tom", "FT", "tom_floor", "RackTom"})
            row(stem, Role::tom);
        for (const char* stem : {"hh", "Hi-Hat", "hihat", "HAT"})
            row(stem, Role::hat);
        for (const char* stem : {"ride", "Crash L", "china"})
            row(stem, Role::cymbal);
        for (const char* stem : {"OH L", "overhead_right", "ohr", "Overheads", "Snaredrum over"})
            row(stem, Role::overhead);
        for (const char* stem : {"room", "Amb far", "Kick Room", "mono", "Rm L"})
            row(stem, Role::room);
        for (const char* stem : {"", "track 7", "vocals", "tracer_up", "bass", "shaker"})
            row(stem, Role::other);
    }
    void roles() {
        QFETCH(QString, stem);
        QFETCH(int, role);
        QCOMPARE(static_cast<int>(guessRole(stem.toStdString()).role), role);
    }
    /// A trigger sits on the drum and hears no bleed; ghost notes count where something tells of hats.
    void triggersGuideAndThresholdsBegin() {
        const auto mics = kitOf({"Kick In", "Kick Trig", "Snare", "OH L"});
        QCOMPARE(mics[0].stem, std::string("Kick Trig"));
        QVERIFY(mics[0].guide && !mics[1].guide);
        QCOMPARE(mics[2].threshold.value, -30.0);
        QCOMPARE(kitOf({"Kick", "Snare"})[1].threshold.value, -24.0);
    }
    void kitOrderAndGuides() {
        const auto mics = kitOf({"room", "Snare bottom", "floor tom", "OH L", "kick out", "hat", "tom 2", "kick in",
                                 "Snare top", "tom 1", "ride"});
        QStringList order, guides;
        for (const Mic& mic : mics) {
            order << QString::fromStdString(mic.stem);
            if (mic.guide)
                guides << order.back();
        }
        QCOMPARE(order, QStringList({"kick in", "kick out", "Snare top", "Snare bottom", "tom 1", "tom 2",
                                     "floor tom", "hat", "ride", "OH L", "room"}));
        QCOMPARE(guides, QStringList({"kick in", "Snare top", "tom 1", "tom 2", "floor tom"}));
    }
};

QTEST_APPLESS_MAIN(TestRoles)
#include "tst_roles.moc"
