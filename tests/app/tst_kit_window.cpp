#include "app/window_rig.h"
#include "import/import_plan.h"
#include "project/kit_layout.h"
#include "shell/import_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>

using namespace lampo;
using namespace lampo::test;

/// The stop Kit and the page of files to bring in, driven by mouse and keys.
class TestKitWindow : public WindowRig {
    Q_OBJECT

    void type(QLineEdit* field, const char* text) {
        field->setFocus();
        field->selectAll();
        QTest::keyClicks(field, text);
        QTest::keyClick(field, Qt::Key_Return);
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top", "snare_bottom", "overhead_left"}); }
    void init() {
        openWindow();
        window_->goTo(Stop::kit);
    }
    void cleanup() { window_.reset(); }

    void rowsSetWhatMicsAre() {
        type(control<QLineEdit>("kick_in name"), "Big one");
        QCOMPARE(document().session().mics[0].shownName(), std::string("Big one"));
        QCOMPARE(document().session().mics[0].stem, std::string("kick_in"));
        type(control<QLineEdit>("overhead_left group"), "air");
        QCOMPARE(document().session().mics[3].group, std::string("air"));
        QCOMPARE(document().session().mics[1].group, document().session().mics[2].group); // one drum, found by name
        control<QCheckBox>("overhead_left guide")->click();
        QVERIFY(document().session().mics[3].guide);
        auto* start = control<QDoubleSpinBox>("snare_top start");
        start->setValue(20);
        QCOMPARE(document().session().take().files[1].offset.frames, std::int64_t{960});
        undoAll();
        QVERIFY(document().session().mics[0].label.empty());
        QCOMPARE(start->value(), 0.0);
    }
    void theBleedTableIsFilled() {
        auto* table = control<QTableWidget>("Bleed table");
        QCOMPARE(table->rowCount(), 4);
        QCOMPARE(table->columnCount(), 2); // kick and snare guide
        QCOMPARE(table->item(0, 0)->text(), QStringLiteral("own"));
        QVERIFY(table->item(1, 0)->text().contains(QStringLiteral("−"))); // the kick in the snare mic
    }
    void noticesSpeakOfPolarityAndStarts() {
        auto* notices = control<QLabel>("Kit notices");
        QTRY_VERIFY(notices->text().contains("opposite polarity"));
        SetOffsets displace{0, std::vector<std::optional<FrameCount>>(4)};
        displace.offsets[3] = FrameCount{48000};
        document().perform(displace);
        settle();
        QTRY_VERIFY(notices->text().contains("overhead_left does not start"));
        auto* together = control<QPushButton>("Start together");
        QVERIFY(together->isVisible());
        together->click();
        settle();
        QTRY_VERIFY(!together->isVisible());
        QVERIFY(std::abs(document().session().take().files[3].offset.frames) < 600);
        action("undo")->trigger();
        QCOMPARE(document().session().take().files[3].offset.frames, std::int64_t{48000});
    }
    void aDrumThatIsNotPlayedIsSaid() {
        // The demo's song has its first fill on the rack tom after 18 s.
        buildTake(folder_ / "no toms yet", 'A', 18, {"kick_in", "snare_top", "tom_rack", "hihat"});
        openWindow("no toms yet");
        window_->goTo(Stop::kit);
        const auto* notices = control<QLabel>("Kit notices");
        QTRY_VERIFY(notices->text().contains("tom_rack: its drum is not heard in take A."));
        QVERIFY(!notices->text().contains("snare_top: its drum is not heard"));
        QVERIFY(found().hits.size() > 20); // and it takes nothing from the others
        const auto* table = control<QTableWidget>("Bleed table");
        const int tom = static_cast<int>(document().session().micNamed("tom_rack")->value);
        QCOMPARE(table->item(tom, 2)->text(), QStringLiteral("not heard"));
    }
    void takesAndCompanionsAreBroughtIn() {
        buildTake(folder_ / "second", 'B', 10, {"kick_in", "snare_top", "overhead_left"});
        writeAudio(folder_.path() / "second" / "bass.wav", std::vector<float>(48000, 0.1F));
        window_->kitFiles().bringIn({folder_ / "second"});
        QCOMPARE(document().session().takes.size(), std::size_t{2});
        QVERIFY(document().session().takes[1].files[2].empty()); // it has no snare from below
        QCOMPARE(document().session().companions.size(), std::size_t{1});
        document().perform(ChooseTake{1});
        settle();
        QVERIFY(document().outcome().landings.size() > 5);
        QVERIFY(control<QLabel>("Kit notices")->text().contains("no file for snare_bottom"));
        undoAll();
        QCOMPARE(document().session().takes.size(), std::size_t{1});
    }
    void aKeptKitIsUsed() {
        const auto file = folder_ / "k.lampo-kit";
        document().perform(MoveMic{1, 0});
        document().perform(SetThreshold{0, {-35}});
        QVERIFY(saveKitLayout(document().session(), file).has_value());
        undoAll();
        window_->kitFiles().useKit(file);
        QCOMPARE(document().session().mics[0].stem, std::string("snare_top"));
        QCOMPARE(document().session().mics[0].threshold.value, -35.0);
        window_->kitFiles().useKit(folder_ / "nowhere.lampo-kit");
        QVERIFY(window_->notice().contains("nowhere.lampo-kit"));
    }
    void thePageShowsAndChangesWhatBecomesOfFiles() {
        ImportPage page(*planImport({folder_ / "take"}));
        page.show();
        auto* table = page.findChild<QTableWidget*>("Import table");
        QCOMPARE(table->rowCount(), 4);
        const auto cell = [&]<class Widget>(const char* name, Widget*) {
            return page.findChild<Widget*>(QLatin1String(name));
        };
        auto* guide = cell("overhead_left.wav guide", static_cast<QCheckBox*>(nullptr));
        QTest::mouseClick(guide, Qt::LeftButton, {}, {7, guide->height() / 2});
        QCoreApplication::processEvents();
        QVERIFY(page.plan().mics[3].guide);
        cell("overhead_left.wav rank", static_cast<QSpinBox*>(nullptr))->setValue(1);
        QCoreApplication::processEvents();
        QCOMPARE(page.plan().mics[0].stem, std::string("overhead_left"));
        auto* take = cell("snare_bottom.wav take", static_cast<QComboBox*>(nullptr));
        take->setCurrentIndex(27); // leave out
        emit take->activated(27);
        QCoreApplication::processEvents();
        QCOMPARE(page.plan().mics.size(), std::size_t{3});
        auto* role = cell("kick_in.wav drum", static_cast<QComboBox*>(nullptr));
        role->setCurrentIndex(static_cast<int>(Role::tom));
        emit role->activated(static_cast<int>(Role::tom));
        QCoreApplication::processEvents();
        const auto session = sessionOf(page.plan());
        QCOMPARE(session->mics.size(), std::size_t{3});
        QVERIFY(session->mics[*session->micNamed("kick_in")].role == Role::tom);
        QTest::mouseClick(page.findChild<QPushButton*>("Bring in"), Qt::LeftButton);
        QCOMPARE(page.result(), static_cast<int>(QDialog::Accepted));
    }
};

QTEST_MAIN(TestKitWindow)
#include "tst_kit_window.moc"
