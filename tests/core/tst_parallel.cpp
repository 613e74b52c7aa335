#include "base/parallel.h"

#include <QtTest>

#include <atomic>
#include <vector>

using namespace lampo;

class TestParallel : public QObject {
    Q_OBJECT
private slots:
    void eachIndexOnce() {
        for (const std::size_t count : {0U, 1U, 2U, 7U, 1000U}) {
            std::vector<std::atomic<int>> calls(count);
            forEachIndex(count, [&](std::size_t i) { ++calls[i]; });
            for (const auto& call : calls)
                QCOMPARE(call.load(), 1);
        }
    }
};

QTEST_APPLESS_MAIN(TestParallel)
#include "tst_parallel.moc"
