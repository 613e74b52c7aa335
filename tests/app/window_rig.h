#pragma once

#include "document/player_control.h"
#include "shell/main_window.h"
#include "support/built_kit.h"
#include "support/hand_device.h"
#include "support/temp_folder.h"

#include <QAction>
#include <QSettings>
#include <QStandardPaths>
#include <QtTest>

namespace lampo::test {

/// A test of the real window with a recording open: mouse and keys on the real widgets.
class WindowRig : public QObject {
protected:
    void makeTake(const std::vector<std::string>& stems, double seconds = 20) {
        QApplication::setApplicationName("LampoTest");
        QStandardPaths::setTestModeEnabled(true);
        QSettings().clear();
        buildTake(folder_ / "take", 'A', seconds, stems);
    }
    void openWindow(const char* folder = "take") { openWindow(std::make_unique<HandDevice>(true), folder); }
    void openWindow(std::unique_ptr<HandDevice> device, const char* folder = "take") {
        device_ = device.get();
        QSettings().clear();
        window_ = std::make_unique<MainWindow>(std::move(device));
        window_->setAsking(false);
        window_->resize(1280, 800);
        window_->show();
        QVERIFY(QTest::qWaitForWindowExposed(window_.get()));
        QVERIFY(window_->open(folder_ / folder));
        settle();
        document().perform(SetTempo{{104}});
        window_->activateWindow();
        sheet().setFocus();
    }
    Document& document() { return window_->document(); }
    SheetWidget& sheet() { return window_->sheet(); }
    const SheetState& state() { return window_->sheet().state(); }
    const FoundHits& found() { return document().outcome().takes[0]->found; }
    QAction* action(const char* name) { return window_->findChild<QAction*>(QLatin1String(name)); }
    void settle() { QTRY_VERIFY_WITH_TIMEOUT(!document().work().busy(), 30000); }
    void settleSeams() { QTRY_VERIFY_WITH_TIMEOUT(!document().seamWork().busy(), 60000); }
    template <class Widget>
    Widget* control(const QString& name) {
        auto* found = window_->findChild<Widget*>(name);
        if (!found)
            qFatal("no control %s", qPrintable(name));
        return found;
    }
    void drag(QPoint from, QPoint to, Qt::KeyboardModifiers keys = {}) { dragOn(sheet(), from, to, keys); }
    static void dragOn(QWidget& widget, QPoint from, QPoint to, Qt::KeyboardModifiers keys = {}) {
        pressAndMove(widget, from, to, keys);
        QTest::mouseRelease(&widget, Qt::LeftButton, keys, to);
    }
    static void pressAndMove(QWidget& widget, QPoint from, QPoint to, Qt::KeyboardModifiers keys = {}) {
        QTest::mousePress(&widget, Qt::LeftButton, keys, from);
        const QPoint half = (from + to) / 2;
        for (const QPoint at : {half, to}) {
            QMouseEvent move(QEvent::MouseMove, QPointF(at), widget.mapToGlobal(QPointF(at)), Qt::NoButton,
                             Qt::LeftButton, keys);
            QApplication::sendEvent(&widget, &move);
        }
    }
    /// The device asks for so much sound, each time when it has been mixed: no clock runs.
    void playFor(Milliseconds time) {
        constexpr std::size_t block = 512;
        const auto frames = static_cast<std::size_t>(toFrames(time, document().session().rate).frames);
        for (std::size_t played = 0; played < frames; played += block) {
            QTRY_VERIFY_WITH_TIMEOUT(window_->player().isMixedAhead(FrameCount{block}), 30000);
            device_->pull(block);
            QCoreApplication::processEvents();
        }
    }
    void undoAll() {
        while (document().history().canUndo())
            document().history().undo();
    }

    TempFolder folder_;
    std::unique_ptr<MainWindow> window_;
    HandDevice* device_ = nullptr; ///< of the window
};

} // namespace lampo::test
