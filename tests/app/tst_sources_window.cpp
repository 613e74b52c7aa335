#include "app/window_rig.h"
#include "project/project_file.h"
#include "shell/sources_dialog.h"
#include "shell/transport_bar.h"
#include "support/dice.h"

#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>

using namespace lampo;
using namespace lampo::test;

/// A project whose files moved and changed is opened, mended in the dialog and taken back.
class TestSourcesWindow : public WindowRig {
    Q_OBJECT
    std::filesystem::path project_;

    SourcesDialog* dialog() { return window_->findChild<SourcesDialog*>(); }
    QTreeWidget* list() { return dialog()->findChild<QTreeWidget*>(); }
    QPushButton* button(const QString& text) {
        for (auto* one : dialog()->findChildren<QPushButton*>())
            if (one->text() == text)
                return one;
        qFatal("no button %s", qPrintable(text));
    }
    QString notice() const {
        QString all;
        for (const QLabel* label : window_->findChild<TransportBar*>()->findChildren<QLabel*>())
            all += label->text() + '\n';
        return all;
    }

private slots:
    void initTestCase() {
        makeTake({"kick_in", "snare_top", "hat"}, 8);
        openWindow();
        project_ = folder_ / "song.lampo";
        document().perform(SetThreshold{0, {-30}});
        QVERIFY(document().save(project_).has_value());
        // The kick moved, the snare is another recording of the same length.
        std::filesystem::create_directories(folder_ / "elsewhere");
        std::filesystem::rename(folder_ / "take" / "kick_in.wav", folder_ / "elsewhere" / "k.wav");
        auto other = readAudio(folder_ / "take" / "snare_top.wav");
        std::reverse(other.begin(), other.end());
        writeAudio(folder_ / "take" / "snare_top.wav", other);
    }
    void theRestIsWorkedWith() {
        QVERIFY(window_->open(project_));
        settle();
        QCOMPARE(document().sourceProblems().size(), std::size_t{2});
        QVERIFY2(notice().contains("kick_in.wav") && notice().contains("1 more"), qPrintable(notice()));
        QVERIFY(!document().modified());
        QVERIFY(document().perform(SetThreshold{1, {-31}}));
        document().history().undo();
    }
    void filesAreFoundAndTakenInOneStep() {
        QVERIFY(window_->open(project_));
        settle();
        action("sources")->trigger();
        QTRY_VERIFY(dialog() && dialog()->isVisible());
        QCOMPARE(list()->topLevelItemCount(), 2);
        QCOMPARE(list()->topLevelItem(0)->text(1), QStringLiteral("kick_in of take A"));
        QVERIFY(!button("Use what was found")->isEnabled());
        QVERIFY(!button("Take it as it is now")->isEnabled()); // it is not there
        dialog()->lookIn(folder_.path());
        QTRY_VERIFY(!dialog()->looking());
        QVERIFY2(list()->topLevelItem(0)->text(3).contains("k.wav (the same content)"),
                 qPrintable(list()->topLevelItem(0)->text(3)));
        list()->setCurrentItem(list()->topLevelItem(1));
        QTest::mouseClick(button("Take it as it is now"), Qt::LeftButton);
        QVERIFY(list()->topLevelItem(1)->text(3).contains("snare_top.wav"));
        QTest::mouseClick(button("Use what was found"), Qt::LeftButton);
        QTRY_VERIFY(!dialog());
        QVERIFY(document().sourceProblems().empty());
        settle();
        const auto& files = document().session().takes[0].files;
        QCOMPARE(files[0].file, folder_ / "elsewhere" / "k.wav");
        QCOMPARE(document().session().mics[0].threshold.value, -30.0); // corrections stay
        QVERIFY(!found().hits.empty());
        QCOMPARE(document().history().undoText(), QStringLiteral("Files found again"));
        document().history().undo();
        QCOMPARE(document().session().takes[0].files[0].file, folder_ / "take" / "kick_in.wav");
        document().history().redo();
        QVERIFY(document().save(project_).has_value());
        QVERIFY(window_->open(project_));
        QVERIFY(document().sourceProblems().empty());
    }
    void nothingWrongIsSaidToo() {
        QVERIFY(window_->open(project_));
        settle();
        action("sources")->trigger();
        QTRY_VERIFY(dialog());
        QCOMPARE(list()->topLevelItemCount(), 0);
        QVERIFY(dialog()->findChild<QLabel*>()->text().startsWith("All files"));
        QTest::mouseClick(button("Go on without"), Qt::LeftButton);
        QTRY_VERIFY(!dialog());
    }
};

QTEST_MAIN(TestSourcesWindow)
#include "tst_sources_window.moc"
