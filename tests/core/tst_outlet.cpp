#include "player/outlet.h"

#include <QtTest>

using namespace lampo;

namespace {

constexpr auto block = static_cast<std::int64_t>(blockFrames);

/// Blocks of a run from `tick` on, all samples at one level, each from its tick's place behind `from`.
std::unique_ptr<Stream> streamOf(std::int64_t run, std::int64_t tick, std::int64_t count, float level,
                                 std::int64_t from = 0, bool ends = false) {
    auto stream = std::make_unique<Stream>(run, 64);
    for (std::int64_t i = 0; i < count; ++i) {
        SoundBlock made;
        made.tick = tick + i;
        made.at = {from + (tick + i) * block};
        made.last = ends && i + 1 == count;
        made.samples.fill(level);
        stream->blocks.push(made);
    }
    return stream;
}

/// The left channel of the next `blocks` blocks.
std::vector<float> heard(Outlet& outlet, std::size_t blocks) {
    std::vector<float> both(2 * blockFrames * blocks);
    outlet.fill(both);
    std::vector<float> left;
    for (std::size_t i = 0; i < both.size(); i += 2)
        left.push_back(both[i]);
    return left;
}

void hand(Outlet& outlet, std::unique_ptr<Stream> stream) {
    QVERIFY(outlet.hand(stream));
    QVERIFY(!stream);
}

} // namespace

/// What the callback lets hear, block by block, without threads and without a clock.
class TestOutlet : public QObject {
    Q_OBJECT
private slots:
    void nothingIsHeardUntilItIsWanted() {
        Outlet outlet;
        hand(outlet, streamOf(1, 0, 4, 0.5F));
        QCOMPARE(heard(outlet, 1).back(), 0.0F);
        outlet.want(1);
        QCOMPARE(heard(outlet, 1).back(), 0.5F); // after fading in
        QCOMPARE(outlet.heardRun(), 1);
        QCOMPARE(outlet.at().frame, 0);
    }
    void aJumpBeginsWithItsFirstBlockHoweverLateItComes() {
        Outlet outlet;
        outlet.want(1);
        hand(outlet, streamOf(1, 0, 20, 0.5F));
        heard(outlet, 5);
        outlet.want(2);
        QCOMPARE(heard(outlet, 7).back(), 0.5F); // goes on meanwhile
        QCOMPARE(outlet.heardRun(), 1);
        QCOMPARE(outlet.at().frame, 4 * block); // the old run's last place, not a mixture
        hand(outlet, streamOf(2, 0, 4, 0.25F, 96000));
        QCOMPARE(heard(outlet, 1).back(), 0.25F);
        QCOMPARE(outlet.at().frame, 96000);
        QCOMPARE(outlet.missed(), 0);
    }
    void aNewProgrammeTakesOverWhereTheTicksMeet() {
        Outlet outlet;
        outlet.want(1);
        hand(outlet, streamOf(1, 0, 20, 0.5F));
        heard(outlet, 3);
        hand(outlet, streamOf(1, 6, 8, 0.25F));
        QCOMPARE(heard(outlet, 3).back(), 0.5F); // ticks 3 to 5
        QCOMPARE(heard(outlet, 1).back(), 0.25F);
        QCOMPARE(outlet.at().frame, 6 * block);
    }
    void aNewProgrammeThatComesLateSkipsWhatIsOver() {
        Outlet outlet;
        outlet.want(1);
        hand(outlet, streamOf(1, 0, 20, 0.5F));
        heard(outlet, 10);
        hand(outlet, streamOf(1, 4, 12, 0.25F));
        QCOMPARE(heard(outlet, 1).back(), 0.25F);
        QCOMPARE(outlet.at().frame, 10 * block);
    }
    void aFreshPlayIsNotUndoneByTheEndOfTheOldOne() {
        Outlet outlet;
        outlet.want(1);
        hand(outlet, streamOf(1, 0, 3, 0.5F, 0, true));
        heard(outlet, 2);
        outlet.want(2); // just before the old song's last block
        heard(outlet, 4);
        QVERIFY(outlet.playing());
        hand(outlet, streamOf(2, 0, 4, 0.25F));
        QCOMPARE(heard(outlet, 1).back(), 0.25F);
        QVERIFY(outlet.playing());
    }
    void aFreshPlayIsNotUndoneByAStopBefore() {
        Outlet outlet;
        outlet.want(1);
        hand(outlet, streamOf(1, 0, 20, 0.5F));
        heard(outlet, 2);
        outlet.want(0);
        outlet.want(2); // before the device asked again
        hand(outlet, streamOf(2, 0, 8, 0.25F));
        QCOMPARE(heard(outlet, 2).back(), 0.25F);
        outlet.want(0);
        const auto fading = heard(outlet, 1);
        QVERIFY(fading.front() > 0.2F && fading.back() == 0.0F);
        hand(outlet, streamOf(3, 0, 8, 0.125F)); // a stream that nobody wants
        QCOMPARE(heard(outlet, 2).back(), 0.0F);
        QVERIFY(!outlet.playing());
        outlet.want(4);
        QCOMPARE(heard(outlet, 2).back(), 0.0F);
        hand(outlet, streamOf(4, 0, 8, 0.75F));
        QCOMPARE(heard(outlet, 2).back(), 0.75F);
    }
    void whatIsMissingIsCountedAndTheSongGoesOnInTime() {
        Outlet outlet;
        outlet.want(1);
        auto stream = streamOf(1, 0, 4, 0.5F);
        Stream& fed = *stream;
        hand(outlet, std::move(stream));
        heard(outlet, 4);
        QCOMPARE(outlet.missed(), 0);
        QCOMPARE(heard(outlet, 3).back(), 0.0F);
        QCOMPARE(outlet.missed(), 3);
        for (std::int64_t tick = 4; tick < 10; ++tick) {
            SoundBlock late;
            late.tick = tick;
            late.at = {tick * block};
            late.samples.fill(0.25F);
            fed.blocks.push(late);
        }
        QCOMPARE(heard(outlet, 1).back(), 0.25F);
        QCOMPARE(outlet.at().frame, 7 * block);
        QCOMPARE(outlet.missed(), 3);
    }
    void blocksThatAreAheadWaitForTheirTick() {
        Outlet outlet;
        outlet.want(1);
        auto stream = streamOf(1, 0, 2, 0.5F);
        Stream& fed = *stream;
        hand(outlet, std::move(stream));
        heard(outlet, 10); // eight are missed
        for (std::int64_t tick = 14; tick < 20; ++tick) {
            SoundBlock ahead; // the feeder goes on a few blocks ahead
            ahead.tick = tick;
            ahead.samples.fill(0.25F);
            fed.blocks.push(ahead);
        }
        QCOMPARE(heard(outlet, 4).back(), 0.0F);
        QCOMPARE(outlet.missed(), 12);
        QCOMPARE(heard(outlet, 6).back(), 0.25F);
        QCOMPARE(outlet.missed(), 12);
    }
    void theEndIsNoMiss() {
        Outlet outlet;
        outlet.want(1);
        hand(outlet, streamOf(1, 0, 3, 0.5F, 0, true));
        heard(outlet, 9);
        QVERIFY(!outlet.playing());
        QCOMPARE(outlet.missed(), 0);
    }
    void moreStreamsThanTheQueuesHoldWait() {
        Outlet outlet;
        outlet.want(1);
        std::unique_ptr<Stream> stream;
        int handed = 0;
        do {
            stream = streamOf(1, 0, 2, 0.5F);
            handed += outlet.hand(stream) ? 1 : 0;
        } while (!stream);
        QVERIFY(handed >= 16);
        heard(outlet, 1);
        int back = 0;
        while (outlet.takeBack())
            ++back;
        QCOMPARE(back, handed - 1); // all but the one that sounds
        QVERIFY(outlet.hand(stream));
    }
    void fillsOfAnyLengthAreWhole() {
        Outlet outlet;
        outlet.want(1);
        hand(outlet, streamOf(1, 0, 40, 0.5F));
        heard(outlet, 1);
        std::size_t frames = 0;
        for (std::size_t size = 1; frames < 20 * blockFrames; frames += size, size = size * 7 % 509 + 1) {
            std::vector<float> out(2 * size, -1);
            outlet.fill(out);
            QVERIFY(std::all_of(out.begin(), out.end(), [](float x) { return x == 0.5F; }));
        }
        QCOMPARE(outlet.at().frame, static_cast<std::int64_t>(frames / blockFrames) * block + block);
    }
};

QTEST_APPLESS_MAIN(TestOutlet)
#include "tst_outlet.moc"
