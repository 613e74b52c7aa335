#include "app/window_rig.h"
#include "project/project_file.h"
#include "support/program.h"

#include <QMenu>
#include <QMessageBox>
#include <QProcess>
#include <QPushButton>

#include <csignal>

using namespace lampo;
using namespace lampo::test;

/// Work that was not saved when Lampo ended, and projects that change while they are open.
class TestRecoveryWindow : public WindowRig {
    Q_OBJECT

    /// As a crash has it: what runs ends without being closed.
    void crash() {
        document().flushJournal();
        window_.reset();
    }
    /// Clicks that button of the next question.
    static void answer(const QString& wanted, QString* said = nullptr) {
        QTimer::singleShot(0, [=] {
            auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
            if (!box)
                return answer(wanted, said);
            if (said)
                *said = box->text();
            for (QAbstractButton* button : box->buttons())
                if (button->text().remove(QLatin1Char('&')) == wanted)
                    return button->click();
            qFatal("no button %s", qPrintable(wanted));
        });
    }
    void newWindow() {
        window_ = std::make_unique<MainWindow>(std::make_unique<HandDevice>());
        window_->show();
    }

private slots:
    void initTestCase() { makeTake({"kick_in", "snare_top"}, 8); }
    void init() {
        qputenv("XDG_STATE_HOME", QByteArray::fromStdString((folder_ / "state").string()));
        std::filesystem::remove_all(folder_ / "state");
        openWindow();
    }
    void cleanup() {
        if (window_) {
            window_->setAsking(false);
            window_->close();
        }
        window_.reset();
        QVERIFY(leftJournals().empty());
    }

    void whatWasNeverSavedComesBackWithItsHistory() {
        document().perform(SetStrength{70});
        document().perform(SetStrength{60});
        document().perform(SetLeadIn{{7}});
        action("undo")->trigger();
        const Session done = document().session();
        const int steps = document().history().count();
        crash();
        QCOMPARE(leftJournals().size(), std::size_t{1});
        newWindow();
        QString said;
        answer("Bring it back", &said);
        QVERIFY(window_->files().offerLeftWork());
        QVERIFY2(said.contains("the last at"), qPrintable(said));
        QVERIFY(document().session() == done);
        QVERIFY(document().modified() && document().file().empty());
        QCOMPARE(document().history().count(), steps);
        QVERIFY(document().history().canRedo());
        action("undo")->trigger();
        QCOMPARE(document().session().timing.strength, 70.0);
        QVERIFY(leftJournals().empty()); // it is in use again, under one name
        crash();                         // and would come back once more
        QCOMPARE(leftJournals().size(), std::size_t{1});
        newWindow();
        QVERIFY(window_->files().bringBack(leftJournals().front()));
        QCOMPARE(document().session().timing.strength, 70.0);
    }
    void aProjectIsAskedAboutWhenItIsOpened() {
        const auto project = folder_ / "song.lampo";
        QVERIFY(document().save(project).has_value());
        document().perform(SetStrength{55});
        crash();
        newWindow();
        answer("Not now");
        QVERIFY(window_->open(project));
        settle();
        QVERIFY(document().session().timing.strength != 55 && !document().modified());
        QCOMPARE(leftJournals().size(), std::size_t{1}); // kept for another time
        window_->close();
        window_.reset();
        newWindow();
        answer("Bring it back");
        QVERIFY(window_->files().offerLeftWork());
        QCOMPARE(document().session().timing.strength, 55.0);
        QVERIFY(document().modified());
        QCOMPARE(document().file(), project);
        while (document().history().canUndo())
            document().history().undo();
        QVERIFY(document().history().count() > 1); // with what was done before it was saved
        document().history().setIndex(document().history().cleanIndex());
        QVERIFY(!document().modified());
        QVERIFY(document().session() == *loadProject(project));
    }
    void thrownAwayIsGone() {
        document().perform(SetStrength{70});
        crash();
        newWindow();
        answer("Throw it away");
        QVERIFY(!window_->files().offerLeftWork());
        QVERIFY(leftJournals().empty());
    }
    void closingInOrderLeavesNothing() {
        document().perform(SetStrength{70});
        document().flushJournal();
        window_->setAsking(false);
        window_->close();
        window_.reset();
        QVERIFY(leftJournals().empty());
    }
    void anotherHandOnTheSameFileIsNoticed() {
        const auto project = folder_ / "two.lampo";
        QVERIFY(document().save(project).has_value());
        document().perform(SetStrength{70});
        Session other = document().session();
        other.title = "Another hand";
        QVERIFY(saveProject(other, project).has_value());
        const auto refused = document().save(project);
        QVERIFY(!refused);
        QVERIFY(refused.error().kind == ErrorKind::changedOnDisk);
        QCOMPARE(loadProject(project)->title, std::string("Another hand"));
        QVERIFY(document().save(project, true).has_value());
        QCOMPARE(loadProject(project)->timing.strength, 70.0);
        QVERIFY(document().save(project).has_value()); // nobody was there since
    }
    void earlierSavesAreKept() {
        const auto project = folder_ / "often.lampo";
        for (int save = 0; save < 25; ++save) {
            document().perform(SetStrength{40.0 + save});
            QVERIFY(document().save(project).has_value());
        }
        auto* menu = window_->findChild<QMenu*>("Earlier saves");
        emit static_cast<QMenu*>(menu->parentWidget())->aboutToShow();
        QCOMPARE(menu->actions().size(), 20);
        menu->actions().front()->trigger();
        QCOMPARE(document().session().timing.strength, 63.0); // the one before the last
        QVERIFY(document().modified());
        action("undo")->trigger();
        QCOMPARE(document().session().timing.strength, 64.0);
        emit static_cast<QMenu*>(menu->parentWidget())->aboutToShow();
        menu->actions().last()->trigger();
        QCOMPARE(document().session().timing.strength, 44.0);
    }
    void nothingIsWrittenOverTheRecording() {
        const auto before = contents(folder_ / "take");
        const QString source = QString::fromStdString((folder_.path() / "take" / "kick_in.wav").string());
        std::filesystem::create_symlink(source.toStdString(), folder_ / "alias");
        for (const QString& target : {source, QString::fromStdString((folder_ / "alias").string())}) {
            window_->kitFiles().writeClickTo(target, {});
            QVERIFY2(window_->notice().contains("a file of the recording"), qPrintable(window_->notice()));
        }
        QVERIFY(!document().save(folder_ / "alias"));
        const auto project = folder_ / "own.lampo";
        QVERIFY(document().save(project).has_value());
        const std::string saved = readBytes(project);
        window_->kitFiles().writeClickTo(QString::fromStdString(project.string()), {});
        QVERIFY(window_->notice().contains("is the project"));
        QCOMPARE(readBytes(project), saved);
        QVERIFY(contents(folder_ / "take") == before);
    }
    void aProjectOpenInAnotherWindowIsSaid() {
        const auto project = folder_ / "shared.lampo";
        QVERIFY(document().save(project).has_value());
        MainWindow second(std::make_unique<HandDevice>());
        second.setAsking(false);
        QSignalSpy notified(&second.document(), &Document::notified);
        QVERIFY(second.open(project));
        QCOMPARE(notified.size(), 1);
        QVERIFY(notified.first().first().toString().contains("open in another window"));
        second.document().perform(SetStrength{40}); // is kept all the same
        second.document().flushJournal();
        second.close();
    }
    void aTerminatedProgramKeepsItsWork() {
        const auto project = folder_ / "ended.lampo";
        QVERIFY(document().save(project).has_value());
        document().perform(SetStrength{35});
        crash();
        QProcess lampo;
        auto environment = QProcessEnvironment::systemEnvironment();
        environment.insert("XDG_CONFIG_HOME", QString::fromStdString((folder_ / "config").string()));
        lampo.setProcessEnvironment(environment);
        lampo.start(QStringLiteral(LAMPO_APP_FILE), {});
        QVERIFY(lampo.waitForStarted());
        QTRY_VERIFY(holdsBack(lampo.processId(), SIGTERM)); // until it is ready for it
        ::kill(static_cast<pid_t>(lampo.processId()), SIGTERM);
        QVERIFY(lampo.waitForFinished(20000));
        QCOMPARE(lampo.exitStatus(), QProcess::NormalExit);
        QCOMPARE(lampo.exitCode(), 128 + SIGTERM);
        QCOMPARE(leftJournals().size(), std::size_t{1});
        newWindow();
        QVERIFY(window_->files().bringBack(leftJournals().front()));
        QCOMPARE(document().session().timing.strength, 35.0);
    }
    void helpNeedsNoDisplay() {
        for (const char* option : {"--help", "--version"}) {
            QProcess lampo;
            auto environment = QProcessEnvironment::systemEnvironment();
            environment.insert("QT_QPA_PLATFORM", "xcb");
            environment.remove("DISPLAY");
            lampo.setProcessEnvironment(environment);
            lampo.start(QStringLiteral(LAMPO_APP_FILE), {QString::fromLatin1(option)});
            QVERIFY(lampo.waitForFinished(20000));
            QVERIFY(lampo.exitStatus() == QProcess::NormalExit && lampo.exitCode() == 0);
            QVERIFY(lampo.readAllStandardOutput().contains(option[2] == 'h' ? "Usage" : "Lampo"));
        }
    }
};

QTEST_MAIN(TestRecoveryWindow)
#include "tst_recovery_window.moc"
