#include "document/delayed_work.h"

#include <QSignalSpy>
#include <QtTest>

#include <atomic>
#include <semaphore>

using namespace lampo;

namespace {

class Work : public NumberedWork {
public:
    ~Work() override { endJob(); }
    using NumberedWork::endJob;
    using NumberedWork::leaveJob;
    using NumberedWork::post;
    using NumberedWork::startJob;
};

class Delayed : public DelayedWork {
public:
    Delayed() : DelayedWork(std::chrono::milliseconds(1), nullptr) {}
    using DelayedWork::notSoon;
    using DelayedWork::setRunning;
    using DelayedWork::showBusy;
};

} // namespace

/// Jobs behind the window, which wait for each other here by what they tell, never by the clock.
class TestNumberedWork : public QObject {
    Q_OBJECT
private slots:
    /// The window goes on while the job before ends; the next one does not begin before that.
    void theNextJobWaitsAndNotTheWindow() {
        Work work;
        std::binary_semaphore begun{0}, mayEnd{0};
        std::atomic<bool> ended = false;
        bool first = false, second = false, inOrder = false;
        work.startJob([&](const std::stop_token&, int number) {
            begun.release();
            mayEnd.acquire();
            work.post(number, [&] { first = true; });
            ended = true;
        });
        begun.acquire();
        work.startJob([&](const std::stop_token&, int number) {
            work.post(number, [&, after = ended.load()] {
                inOrder = after;
                second = true;
            });
        });
        QVERIFY(!ended); // nobody waited: the first could not have ended
        mayEnd.release();
        QTRY_VERIFY(second);
        QVERIFY(inOrder);
        QVERIFY(!first); // what a left job posts does not arrive
    }
    void aJobThatIsLeftBeforeItBeginsNeverDoes() {
        Work work;
        std::binary_semaphore begun{0}, mayEnd{0};
        std::atomic<bool> second = false;
        work.startJob([&](const std::stop_token&, int) {
            begun.release();
            mayEnd.acquire();
        });
        begun.acquire();
        work.startJob([&](const std::stop_token&, int) { second = true; });
        work.leaveJob();
        mayEnd.release();
        work.endJob();
        QVERIFY(!second);
    }
    void whatArrivesLateIsForgotten() {
        Work work;
        std::binary_semaphore posted{0};
        bool told = false;
        work.startJob([&](const std::stop_token&, int number) {
            work.post(number, [&] { told = true; });
            posted.release();
        });
        posted.acquire();
        work.endJob();
        QCoreApplication::processEvents();
        QVERIFY(!told);
    }
    void workIsBusyFromTheChangeToItsEnd() {
        Delayed work;
        QSignalSpy busy(&work, &DelayedWork::busyChanged);
        connect(&work, &DelayedWork::wanted, &work, [&] { work.setRunning(true); });
        QSignalSpy wanted(&work, &DelayedWork::wanted);
        work.soon();
        work.soon();
        QVERIFY(work.busy());
        QTRY_COMPARE(wanted.size(), 1); // asked for once
        QVERIFY(work.busy());
        QCOMPARE(busy.size(), 1);
        work.setRunning(false);
        work.showBusy();
        QVERIFY(!work.busy());
        QCOMPARE(busy.size(), 2);
        work.soon();
        work.notSoon();
        work.showBusy();
        QVERIFY(!work.busy());
    }
};

QTEST_GUILESS_MAIN(TestNumberedWork)
#include "tst_numbered_work.moc"
