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
    void theLowestErrorIsTold() {
        std::atomic<int> calls{0};
        const auto result = tryEachIndex(200, [&](std::size_t i) -> Expected<void> {
            ++calls;
            if (i % 50 == 7)
                return fail(ErrorKind::badValue, std::to_string(i));
            return {};
        });
        QCOMPARE(calls.load(), 200);
        QVERIFY(!result);
        QCOMPARE(result.error().sentence, std::string("7"));
        QVERIFY(tryEachIndex(9, [](std::size_t) { return Expected<void>{}; }));
    }
};

QTEST_APPLESS_MAIN(TestParallel)
#include "tst_parallel.moc"
