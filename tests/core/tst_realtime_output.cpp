#include "player/realtime_output.h"

#include <QtTest>

using namespace lampo;

namespace {

constexpr auto block = static_cast<std::int64_t>(blockFrames);

/// One block at one level, at its tick's place behind `from`.
SoundBlock blockOf(std::int64_t tick, float level, std::int64_t from = 0) {
    SoundBlock made;
    made.tick = tick;
    made.at = ResultFrame{from + tick * block};
    made.samples.fill(level);
    return made;
}

struct Ticks {
    std::int64_t first, count;
};

/// Blocks of a run, all at one level; the last may end it.
std::unique_ptr<Stream> streamOf(std::int64_t run, Ticks ticks, float level, std::int64_t from = 0,
                                 bool ends = false) {
    auto stream = std::make_unique<Stream>(run, 64);
    for (std::int64_t i = 0; i < ticks.count; ++i) {
        SoundBlock made = blockOf(ticks.first + i, level, from);
        made.last = ends && i + 1 == ticks.count;
        stream->blocks.push(made);
    }
    return stream;
}

/// The left channel of the next `blocks` blocks.
std::vector<float> heard(RealtimeOutput& output, std::size_t blocks) {
    std::vector<float> both(2 * blockFrames * blocks);
    output.fill(both);
    std::vector<float> left;
    for (std::size_t i = 0; i < both.size(); i += 2)
        left.push_back(both[i]);
    return left;
}

void push(RealtimeOutput& output, std::unique_ptr<Stream> stream) {
    QVERIFY(output.push(stream));
    QVERIFY(!stream);
}

/// Plays `blocks` of a stream at half level, then hands over the next one.
void playThenPush(RealtimeOutput& output, std::size_t blocks, std::unique_ptr<Stream> next) {
    output.want(1);
    push(output, streamOf(1, {0, 20}, 0.5F));
    heard(output, blocks);
    push(output, std::move(next));
}

} // namespace

/// What the callback lets hear, block by block, without threads and without a clock.
class TestRealtimeOutput : public QObject {
    Q_OBJECT
private slots:
    void nothingIsHeardUntilItIsWanted() {
        RealtimeOutput output;
        push(output, streamOf(1, {0, 4}, 0.5F));
        QCOMPARE(heard(output, 1).back(), 0.0F);
        output.want(1);
        QCOMPARE(heard(output, 1).back(), 0.5F); // after fading in
        QCOMPARE(output.playedRun(), 1);
        QCOMPARE(output.at().frame, 0);
    }
    void aJumpBeginsWithItsFirstBlockHoweverLateItComes() {
        RealtimeOutput output;
        output.want(1);
        push(output, streamOf(1, {0, 20}, 0.5F));
        heard(output, 5);
        output.want(2);
        QCOMPARE(heard(output, 7).back(), 0.5F); // goes on meanwhile
        QCOMPARE(output.playedRun(), 1);
        QCOMPARE(output.at().frame, 4 * block); // the old run's last place, not a mixture
        push(output, streamOf(2, {0, 4}, 0.25F, 96000));
        QCOMPARE(heard(output, 1).back(), 0.25F);
        QCOMPARE(output.at().frame, 96000);
        QCOMPARE(output.dropouts(), 0);
    }
    void aNewProgrammeTakesOverWhereTheTicksMeet() {
        RealtimeOutput output;
        playThenPush(output, 3, streamOf(1, {6, 8}, 0.25F));
        QCOMPARE(heard(output, 3).back(), 0.5F); // ticks 3 to 5
        QCOMPARE(heard(output, 1).back(), 0.25F);
        QCOMPARE(output.at().frame, 6 * block);
    }
    void aNewProgrammeThatComesLateSkipsWhatIsOver() {
        RealtimeOutput output;
        playThenPush(output, 10, streamOf(1, {4, 12}, 0.25F));
        QCOMPARE(heard(output, 1).back(), 0.25F);
        QCOMPARE(output.at().frame, 10 * block);
    }
    void aFreshPlayIsNotUndoneByTheEndOfTheOldOne() {
        RealtimeOutput output;
        output.want(1);
        push(output, streamOf(1, {0, 3}, 0.5F, 0, true));
        heard(output, 2);
        output.want(2); // just before the old song's last block
        heard(output, 4);
        QVERIFY(output.playing());
        push(output, streamOf(2, {0, 4}, 0.25F));
        QCOMPARE(heard(output, 1).back(), 0.25F);
        QVERIFY(output.playing());
    }
    void aFreshPlayIsNotUndoneByAStopBefore() {
        RealtimeOutput output;
        output.want(1);
        push(output, streamOf(1, {0, 20}, 0.5F));
        heard(output, 2);
        output.want(0);
        output.want(2); // before the device asked again
        push(output, streamOf(2, {0, 8}, 0.25F));
        QCOMPARE(heard(output, 2).back(), 0.25F);
        output.want(0);
        const auto fading = heard(output, 1);
        QVERIFY(fading.front() > 0.2F && fading.back() == 0.0F);
        push(output, streamOf(3, {0, 8}, 0.125F)); // a stream that nobody wants
        QCOMPARE(heard(output, 2).back(), 0.0F);
        QVERIFY(!output.playing());
        output.want(4);
        QCOMPARE(heard(output, 2).back(), 0.0F);
        push(output, streamOf(4, {0, 8}, 0.75F));
        QCOMPARE(heard(output, 2).back(), 0.75F);
    }
    void whatIsMissingIsCountedAndTheSongGoesOnInTime() {
        RealtimeOutput output;
        output.want(1);
        auto stream = streamOf(1, {0, 4}, 0.5F);
        Stream& fed = *stream;
        push(output, std::move(stream));
        heard(output, 4);
        QCOMPARE(output.dropouts(), 0);
        QCOMPARE(heard(output, 3).back(), 0.0F);
        QCOMPARE(output.dropouts(), 3);
        for (std::int64_t tick = 4; tick < 10; ++tick) {
            fed.blocks.push(blockOf(tick, 0.25F));
        }
        QCOMPARE(heard(output, 1).back(), 0.25F);
        QCOMPARE(output.at().frame, 7 * block);
        QCOMPARE(output.dropouts(), 3);
    }
    void blocksThatAreAheadWaitForTheirTick() {
        RealtimeOutput output;
        output.want(1);
        auto stream = streamOf(1, {0, 2}, 0.5F);
        Stream& fed = *stream;
        push(output, std::move(stream));
        heard(output, 10); // eight are missed
        for (std::int64_t tick = 14; tick < 20; ++tick) {
            fed.blocks.push(blockOf(tick, 0.25F)); // the feeder goes on a few blocks ahead
        }
        QCOMPARE(heard(output, 4).back(), 0.0F);
        QCOMPARE(output.dropouts(), 12);
        QCOMPARE(heard(output, 6).back(), 0.25F);
        QCOMPARE(output.dropouts(), 12);
    }
    void theEndIsNoMiss() {
        RealtimeOutput output;
        output.want(1);
        push(output, streamOf(1, {0, 3}, 0.5F, 0, true));
        heard(output, 9);
        QVERIFY(!output.playing());
        QCOMPARE(output.dropouts(), 0);
    }
    void moreStreamsThanTheQueuesHoldWait() {
        RealtimeOutput output;
        output.want(1);
        std::unique_ptr<Stream> stream;
        int handed = 0;
        do {
            stream = streamOf(1, {0, 2}, 0.5F);
            handed += output.push(stream) ? 1 : 0;
        } while (!stream);
        QVERIFY(handed >= 16);
        heard(output, 1);
        int back = 0;
        while (output.popReturned())
            ++back;
        QCOMPARE(back, handed - 1); // all but the one that sounds
        QVERIFY(output.push(stream));
    }
    /// Also while the feeder does not fetch what comes back.
    void noStreamIsLost() {
        RealtimeOutput output;
        output.want(1);
        int handed = 0;
        for (int i = 0; i < 300; ++i) {
            auto stream = streamOf(1, {i, 4}, 0.5F);
            handed += output.push(stream) ? 1 : 0;
            heard(output, 1);
        }
        QVERIFY(handed >= 16 && handed < 300);
        int back = 0;
        while (output.popReturned())
            ++back;
        QVERIFY2(handed - back <= 2, qPrintable(QStringLiteral("%1 of %2").arg(back).arg(handed))); // those in use
    }
    void fillsOfAnyLengthAreWhole() {
        RealtimeOutput output;
        output.want(1);
        push(output, streamOf(1, {0, 40}, 0.5F));
        heard(output, 1);
        std::size_t frames = 0;
        for (std::size_t size = 1; frames < 20 * blockFrames; frames += size, size = size * 7 % 509 + 1) {
            std::vector<float> out(2 * size, -1);
            output.fill(out);
            QVERIFY(std::all_of(out.begin(), out.end(), [](float x) { return x == 0.5F; }));
        }
        QCOMPARE(output.at().frame, static_cast<std::int64_t>(frames / blockFrames) * block + block);
    }
};

QTEST_APPLESS_MAIN(TestRealtimeOutput)
#include "tst_realtime_output.moc"
