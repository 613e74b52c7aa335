#include "base/error.h"
#include "base/range.h"
#include "base/text.h"
#include "base/units.h"

#include <QtTest>

#include <random>

#include <set>

using namespace lampo;

// Mixing time axes must not compile: what is not allowed is shown not to exist.
template <class A, class B>
concept Subtracts = requires(A a, B b) {
    a - b;
};
template <class A, class B>
concept Compares = requires(A a, B b) {
    a < b;
};
template <class A, class B>
concept Becomes = requires(A a, B b) {
    b = a;
};

static_assert(Subtracts<SongFrame, SongFrame> && Subtracts<SongFrame, FrameCount>);
static_assert(!Subtracts<SourceFrame, SongFrame> && !Subtracts<SongFrame, ResultFrame> &&
              !Subtracts<ResultFrame, SourceFrame>);
static_assert(Compares<SourceFrame, SourceFrame> && !Compares<SourceFrame, ResultFrame> &&
              !Compares<SongFrame, FrameCount>);
static_assert(!Becomes<SourceFrame, SongFrame> && !Becomes<SongFrame, ResultFrame> &&
              !Becomes<std::int64_t, SongFrame>);
static_assert(!Becomes<Seconds, Milliseconds> && !Becomes<double, Decibels>);

class TestBase : public QObject {
    Q_OBJECT
private slots:
    void framesOfTime() {
        // 60 / tempo seconds a quarter: a sixteenth at 120 BPM is 125 ms (arithmetic, domain of the trade).
        QCOMPARE(toFrames(Milliseconds{125}, {48000}).frames, 6000);
        QCOMPARE(toFrames(Seconds{1.0 / 3}, {44100}).frames, 14700);
        QCOMPARE(toFrames(Milliseconds{-0.02}, {48000}).frames, -1); // rounds to nearest
        QCOMPARE(toMilliseconds({48}, {48000}).value, 1.0);
    }
    void decibels() {
        QVERIFY(qAbs(toGain({-6.0206}) - 0.5) < 1e-5);
        QVERIFY(qAbs(toDecibels(0.5).value + 6.0206) < 1e-4);
        QVERIFY(toDecibels(0).value >= -200);
    }
    void ranges() {
        const Range<SongFrame> range{{10}, {20}};
        QVERIFY(range.contains({10}) && !range.contains({20}));
        QVERIFY((range.intersected({{15}, {40}}) == Range<SongFrame>{{15}, {20}}));
        QVERIFY(range.intersected({{20}, {40}}).empty());
    }
    void text() {
        QCOMPARE(trimmedNumber(80.0), std::string("80"));
        QCOMPARE(trimmedNumber(12.50, 2), std::string("12.5"));
        QCOMPARE(trimmedNumber(-0.0001, 2), std::string("0"));
        QCOMPARE(split("A,,B", ',').size(), std::size_t{3});
    }
    void anyBytesComeBackFromUtf8() {
        QCOMPARE(asUtf8("Möwe 鼓 🥁"), std::string("Möwe 鼓 🥁")); // UTF-8 stays as it is
        QCOMPARE(asUtf8("caf\xe9.wav"), std::string("caf\0e9.wav", 10));
        std::mt19937 random(3);
        for (int round = 0; round < 2000; ++round) {
            std::string bytes(random() % 12, 'x');
            for (char& byte : bytes)
                byte = static_cast<char>(random() % 255 + 1); // no name holds a zero
            const std::string text = asUtf8(bytes);
            QCOMPARE(QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size())).toStdString(), text);
            QCOMPARE(bytesOfUtf8(text), std::optional(bytes));
        }
        for (const std::string& bad : {std::string("\0", 1), std::string("\0e", 2), std::string("\0zz", 3),
                                       std::string("\0"
                                                   "41",
                                                   3),
                                       std::string("\0-1", 3)})
            QVERIFY(!bytesOfUtf8(bad));
    }
    void errorNamesAreDistinct() {
        std::set<std::string_view> names;
        for (int kind = 0; kind <= static_cast<int>(ErrorKind::cancelled); ++kind)
            QVERIFY(names.insert(name(static_cast<ErrorKind>(kind))).second);
    }
};

QTEST_APPLESS_MAIN(TestBase)
#include "tst_base.moc"
