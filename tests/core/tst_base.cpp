#include "base/descriptor.h"
#include "base/enum_names.h"
#include "base/error.h"
#include "base/indices.h"
#include "base/range.h"
#include "base/shared_list.h"
#include "base/text.h"
#include "base/units.h"

#include <QtTest>

#include <clocale>
#include <cstdio>
#include <fcntl.h>
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

// Only the shift between two axes leads from one to the other.
template <class A, class B>
concept Adds = requires(A a, B b) {
    a + b;
};
static_assert(Adds<SourceFrame, SourceToSong> && Adds<SourceFrame, SourceToResult>);
static_assert(!Adds<SongFrame, SourceToSong> && !Adds<SourceFrame, SongFrame> && !Adds<SongFrame, SourceToResult>);
static_assert(Subtracts<SongFrame, SourceToSong> && !Subtracts<SourceFrame, SourceToSong> &&
              !Subtracts<ResultFrame, SourceToSong>);
static_assert(!Becomes<FrameCount, SourceToSong> && !Becomes<SourceToSong, SourceToResult>);

static_assert(Subtracts<SongFrame, SongFrame> && Subtracts<SongFrame, FrameCount>);
static_assert(!Subtracts<SourceFrame, SongFrame> && !Subtracts<SongFrame, ResultFrame> &&
              !Subtracts<ResultFrame, SourceFrame>);
static_assert(Compares<SourceFrame, SourceFrame> && !Compares<SourceFrame, ResultFrame> &&
              !Compares<SongFrame, FrameCount>);
static_assert(!Becomes<SourceFrame, SongFrame> && !Becomes<SongFrame, ResultFrame> &&
              !Becomes<std::int64_t, SongFrame>);
// Nor does a bare number in braces become a place, a distance or a shift.
template <class T>
concept TakesNumber = requires(void (*take)(T)) {
    take({1});
};
static_assert(!TakesNumber<SourceFrame> && !TakesNumber<SongFrame> && !TakesNumber<ResultFrame> &&
              !TakesNumber<FrameCount> && TakesNumber<std::int64_t>);
static_assert(!Becomes<FrameCount, SourceToResult> && !std::is_convertible_v<FrameCount, SourceToSong>);
static_assert(Becomes<MicIndex, std::size_t> && Compares<MicIndex, std::size_t>);
static_assert(!Becomes<std::size_t, MicIndex> && !Becomes<TakeIndex, MicIndex> && !Compares<TakeIndex, MicIndex>);
static_assert(!Becomes<char, TakeLetter> && !Compares<TakeLetter, char>);
static_assert(!Becomes<Seconds, Milliseconds> && !Becomes<double, Decibels>);

enum class Season { spring, summer, autumn };
using SeasonNames = EnumNames<Season, Season::autumn>;
static_assert(std::is_constructible_v<SeasonNames, const char*, const char*, const char*> &&
              !std::is_constructible_v<SeasonNames, const char*, const char*>);

class TestBase : public QObject {
    Q_OBJECT
private slots:
    void takesAreCalledByCapitals() {
        QVERIFY(TakeLetter::of('A') && TakeLetter::of('Z') == TakeLetter{'Z'});
        for (const char other : {'@', '[', 'a', '1', '\xC4'})
            QVERIFY(!TakeLetter::of(other));
        QCOMPARE(TakeLetter{'C'}.text(), std::string("C"));
    }
    void aDescriptorIsClosedOnceByItsLastOwner() {
        const auto isOpen = [](int number) { return ::fcntl(number, F_GETFD) != -1; };
        const auto opened = [] { return Descriptor(::open("/dev/null", O_RDONLY | O_CLOEXEC)); };
        int number = -1, replaced = -1;
        {
            Descriptor last = opened();
            replaced = last.number();
            Descriptor first = opened();
            number = first.number();
            last = std::move(first);
            QVERIFY(last && last.number() == number && isOpen(number) && !isOpen(replaced));
            Descriptor& itself = last;
            last = std::move(itself);
            QVERIFY(isOpen(number));
        }
        QVERIFY(!isOpen(number));
        QVERIFY(!Descriptor() && !Descriptor(::open("/nowhere/at/all", O_RDONLY | O_CLOEXEC)));
    }
    void valuesAndTheirWordsFindEachOther() {
        constexpr SeasonNames names{"spring", "summer", "autumn"};
        QCOMPARE(names.of(Season::summer), std::string_view("summer"));
        QVERIFY(names.named("autumn") == Season::autumn && names.named("spring") == Season::spring);
        QVERIFY(!names.named("winter") && !names.named("") && !names.named("Spring"));
    }
    void distancesAreMeasured() {
        QCOMPARE(abs(FrameCount{-7}).frames, std::int64_t{7});
        QCOMPARE(abs(FrameCount{7}).frames, std::int64_t{7});
        QCOMPARE(ratio(FrameCount{-3}, FrameCount{4}), -0.75);
        QCOMPARE(scaled(FrameCount{5}, 0.5).frames, std::int64_t{3}); // halves away from zero
        QCOMPARE(scaled(FrameCount{-5}, 0.5).frames, std::int64_t{-3});
    }
    void shiftsLeadFromAxisToAxis() {
        const SourceToSong shift{FrameCount{480}};
        QCOMPARE((SourceFrame{100} + shift).frame, std::int64_t{580});
        QCOMPARE((SongFrame{580} - shift).frame, std::int64_t{100});
        QCOMPARE((asResult(shift) - SourceToResult{FrameCount{400}}).frames, std::int64_t{80});
        QCOMPARE((SourceFrame{0} + (asResult(shift) + FrameCount{20})).frame, std::int64_t{500});
        QCOMPARE(asSong(asResult(SongFrame{7})).frame, std::int64_t{7});
    }
    void numbersAndArticles() {
        QCOMPARE(counted(1, "hit"), std::string("1 hit"));
        QCOMPARE(counted(0, "hit"), std::string("0 hits"));
        QCOMPARE(counted(2, "file is", "files are"), std::string("2 files are"));
        QCOMPARE(counted(1, "file is", "files are"), std::string("1 file is"));
        QCOMPARE(withArticle("MIDI file"), std::string("a MIDI file"));
        QCOMPARE(withArticle("edit"), std::string("an edit"));
    }
    void framesOfTime() {
        // 60 / tempo seconds a quarter: a sixteenth at 120 BPM is 125 ms (arithmetic, domain of the trade).
        QCOMPARE(toFrames(Milliseconds{125}, {48000}).frames, 6000);
        QCOMPARE(toFrames(Seconds{1.0 / 3}, {44100}).frames, 14700);
        QCOMPARE(toFrames(Milliseconds{-0.02}, {48000}).frames, -1); // rounds to nearest
        QCOMPARE(toMilliseconds(FrameCount{48}, {48000}).value, 1.0);
    }
    void decibels() {
        QVERIFY(qAbs(toGain({-6.0206}) - 0.5) < 1e-5);
        QVERIFY(qAbs(toDecibels(0.5).value + 6.0206) < 1e-4);
        QVERIFY(toDecibels(0).value >= -200);
    }
    void ranges() {
        const Range<SongFrame> range{SongFrame{10}, SongFrame{20}};
        QVERIFY(range.contains(SongFrame{10}) && !range.contains(SongFrame{20}));
        QVERIFY(
            (range.intersected({SongFrame{15}, SongFrame{40}}) == Range<SongFrame>{SongFrame{15}, SongFrame{20}}));
        QVERIFY(range.intersected({SongFrame{20}, SongFrame{40}}).empty());
    }
    /// Whatever is done to a list, it holds what a vector would, and its copies what they held.
    void sharedListsAreLists() {
        std::mt19937 random(5);
        std::vector<int> plain;
        SharedList<int> list;
        std::vector<std::pair<std::vector<int>, SharedList<int>>> kept;
        const auto upTo = [&](std::size_t last) {
            return std::uniform_int_distribution<std::size_t>(0, last)(random);
        };
        for (int step = 0; step < 4000; ++step) {
            const int value = static_cast<int>(upTo(1000));
            const std::size_t place = upTo(plain.size());
            switch (upTo(5)) {
            case 0:
                plain.insert(plain.begin() + static_cast<std::ptrdiff_t>(place), value);
                list.insert(std::next(list.begin(), static_cast<std::ptrdiff_t>(place)), value);
                break;
            case 1:
                QCOMPARE(list.eraseIf([&](int x) { return x % 400 == value % 400; }),
                         std::erase_if(plain, [&](int x) { return x % 400 == value % 400; }));
                break;
            case 2:
                if (place < plain.size()) {
                    plain[place] = value;
                    list.set(place, value);
                }
                break;
            case 3: {
                const auto change = [&](int& x) { return x % 50 == value % 50 && (x += 3, true); };
                QCOMPARE(list.changeEach(change), std::count_if(plain.begin(), plain.end(), change) > 0);
                break;
            }
            default:
                plain.push_back(value);
                list.push_back(value);
            }
            QCOMPARE(list.size(), plain.size());
            QVERIFY(std::equal(list.begin(), list.end(), plain.begin(), plain.end()));
            QVERIFY(std::equal(std::make_reverse_iterator(list.end()), std::make_reverse_iterator(list.begin()),
                               plain.rbegin(), plain.rend()));
            QVERIFY(plain.empty() || (list.front() == plain.front() && list.back() == plain.back()));
            QVERIFY(place >= plain.size() || list[place] == plain[place]);
            if (step % 100 == 0)
                kept.emplace_back(plain, list);
        }
        QVERIFY(plain.size() > 200);
        for (const auto& [then, copy] : kept) {
            QVERIFY(std::equal(copy.begin(), copy.end(), then.begin(), then.end()));
            QVERIFY(copy == SharedList<int>(then) && (copy == list) == (then == plain));
        }
    }
    /// One change makes one piece anew.
    void sharedListsShare() {
        const SharedList<int> before(std::vector<int>(6400, 7));
        SharedList<int> after = before;
        after.insert(std::next(after.begin(), 3000), 1);
        QCOMPARE(after.shared(before), (std::pair<std::size_t, std::size_t>{99, 101}));
        after = before;
        after.eraseIf([](int x) { return x == 8; });
        after.changeEach([](int&) { return false; });
        QCOMPARE(after.shared(before), (std::pair<std::size_t, std::size_t>{100, 100}));
        after.set(0, 3);
        after.set(1, 4);
        QCOMPARE(after.shared(before), (std::pair<std::size_t, std::size_t>{99, 100}));
    }
    void text() {
        QCOMPARE(trimmedNumber(80.0), std::string("80"));
        QCOMPARE(trimmedNumber(12.50, 2), std::string("12.5"));
        QCOMPARE(trimmedNumber(-0.0001, 2), std::string("0"));
        QCOMPARE(split("A,,B", ',').size(), std::size_t{3});
    }
    /// Qt takes over the user's locale when the window opens; the words of edits and reports keep their point.
    void numbersAreTheSameInEveryLocale() {
        const QTemporaryDir locales;
        QCOMPARE(QProcess::execute("localedef", {"-i", "de_DE", "-f", "UTF-8", locales.filePath("de_DE.UTF-8")}),
                 0);
        qputenv("LOCPATH", locales.path().toUtf8());
        QVERIFY(std::setlocale(LC_NUMERIC, "de_DE.UTF-8"));
        char asInGermany[8];
        std::snprintf(asInGermany, sizeof asInGermany, "%.1f", 12.5);
        const std::string trimmed = trimmedNumber(12.5);
        const std::string negative = withMinus(-12.5);
        std::setlocale(LC_NUMERIC, "C");
        qunsetenv("LOCPATH");
        QCOMPARE(asInGermany, "12,5");
        QCOMPARE(trimmed, std::string("12.5"));
        QCOMPARE(negative, std::string("−12.5"));
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
