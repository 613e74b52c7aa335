#include "base/parallel.h"

#include <QtTest>

#include <atomic>
#include <numeric>
#include <thread>
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
    void callsFromWithinWorkEnd() {
        std::atomic<int> calls{0};
        forEachIndex(
            40,
            [&](std::size_t) {
                forEachIndex(
                    40, [&](std::size_t) { ++calls; }, 8);
            },
            8);
        QCOMPARE(calls.load(), 1600);
    }
    void severalCallersAtOnce() {
        std::vector<int> sums(8);
        {
            std::vector<std::jthread> callers;
            for (int& sum : sums)
                callers.emplace_back([&sum] {
                    for (int round = 0; round < 200; ++round) {
                        std::vector<int> parts(7); // what helpers wrote is there when the call returns
                        forEachIndex(
                            parts.size(), [&](std::size_t i) { parts[i] = static_cast<int>(i); }, 4);
                        sum += std::accumulate(parts.begin(), parts.end(), 0);
                    }
                });
        }
        for (const int sum : sums)
            QCOMPARE(sum, 200 * 21);
    }
    void threadsAreKept() {
        static std::atomic<int> threads{0};
        struct Counted {
            Counted() { ++threads; }
        };
        for (int call = 0; call < 200; ++call)
            forEachIndex(
                16, [](std::size_t) { static thread_local const Counted once; }, 4);
        QVERIFY2(threads.load() <= 64, qPrintable(QString::number(threads.load())));
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
