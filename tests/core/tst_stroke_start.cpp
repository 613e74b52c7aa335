#include "strokes/stroke_start.h"
#include "support/dice.h"

#include <QtTest>

#include <algorithm>
#include <cmath>

using namespace lampo;
using namespace lampo::test;

class TestStrokeStart : public QObject {
    Q_OBJECT

private slots:
    /// Envelopes in parts of the peak, 12 samples each ms; the main rise is at 240.
    void anAttackBegins_data() {
        QTest::addColumn<double>("before"); // level of what sounds before
        QTest::addColumn<int>("from");      // samples before the main rise
        QTest::addColumn<int>("to");
        QTest::addColumn<bool>("sure"); // in nearly all strokes
        QTest::addColumn<int>("start"); // samples before the main rise
        QTest::newRow("out of silence") << 0.0 << 0 << 0 << false << 0;
        QTest::newRow("out of silence, many strokes") << 0.0 << 0 << 0 << true << 0;
        QTest::newRow("a ring goes on before it") << 0.3 << 240 << 0 << true << 0;
        QTest::newRow("a hat before a few strokes") << 0.08 << 72 << 0 << false << 0;
        QTest::newRow("a brush touches first") << 0.08 << 72 << 0 << true << 72;
        QTest::newRow("a click, then a gap") << 0.5 << 27 << 22 << true << 27;
        QTest::newRow("what is too far before the gap") << 0.5 << 60 << 50 << true << 0;
        QTest::newRow("a second swell that rises more") << 0.45 << 180 << 0 << true << 180;
    }
    void anAttackBegins() {
        QFETCH(double, before);
        QFETCH(int, from);
        QFETCH(int, to);
        QFETCH(bool, sure);
        QFETCH(int, start);
        constexpr int soundPerMs = 12, rise = 240, reach = 5; // an envelope begins 0.4 ms early
        MainRise attack{Sound(480), rise};
        for (int i = rise - reach; i < 480; ++i)
            attack.envelope[static_cast<std::size_t>(i)] = 1;
        for (int i = rise - reach - from; i < rise - reach - to; ++i)
            attack.envelope[static_cast<std::size_t>(std::max(0, i))] = static_cast<float>(before);
        const auto found = startOf(attack, sure ? attack.envelope : Sound(), soundPerMs);
        QVERIFY(found.has_value());
        QVERIFY2(std::abs(found->at - (rise - start - 0.15 * soundPerMs)) <= 1.5,
                 qPrintable(QString::number(found->at)));
        QCOMPARE(found->outOfSilence, before == 0 || start > 0);
    }
    /// An attack that rises by so many dB each ms out of a hiss: it was there before, by how steep it is, as far as
    /// −38 dB; by arithmetic.
    void anAttackBeginsUnderAHiss_data() {
        QTest::addColumn<double>("hiss"); // dB under the peak
        QTest::addColumn<double>("steep");
        QTest::addColumn<double>("hidden"); // ms
        QTest::newRow("steep") << -32.0 << 80.0 << 14.0 / 80;
        QTest::newRow("less steep") << -32.0 << 40.0 << 14.0 / 40;
        QTest::newRow("a softer hiss") << -39.0 << 40.0 << 7.0 / 40;
        QTest::newRow("no further than is plausible") << -32.0 << 15.0 << 0.5;
        QTest::newRow("bleed") << -22.0 << 40.0 << 24.0 / 40;
        QTest::newRow("bleed, no further than is plausible") << -22.0 << 20.0 << 2.4 * 0.33;
        QTest::newRow("in silence") << -80.0 << 40.0 << 0.0;
    }
    void anAttackBeginsUnderAHiss() {
        QFETCH(double, hiss);
        QFETCH(double, steep);
        QFETCH(double, hidden);
        constexpr double soundPerMs = 192;
        constexpr std::size_t rise = 3840;
        MainRise attack{Sound(7680), rise};
        for (std::size_t i = 0; i < attack.envelope.size(); ++i) {
            const double ms = (static_cast<double>(i) - static_cast<double>(rise)) / soundPerMs;
            attack.envelope[i] = static_cast<float>(std::pow(10, std::max(hiss, std::min(0.0, steep * ms)) / 20));
        }
        const auto found = startOf(attack, {}, soundPerMs);
        QVERIFY(found.has_value());
        QVERIFY2(std::abs(found->hidden / soundPerMs - hidden) < 0.05,
                 qPrintable(QString::number(found->hidden / soundPerMs)));
    }
    /// Two hundred attacks of 20 to 80 dB each ms out of bleed whose level varies, whose loudness grows most up to
    /// 6 ms later, behind a dip: they begin within 1 ms of where they leave −38 dB, but for one in twenty.
    void anAttackBeginsOverBleed_data() {
        QTest::addColumn<double>("softest"); // dB under the peak
        QTest::addColumn<double>("loudest");
        QTest::addColumn<double>("varies"); // dB
        QTest::newRow("bleed that is below -20 dB now and then") << -24.0 << -17.0 << 4.0;
        QTest::newRow("bleed that never is") << -18.0 << -14.0 << 1.5;
        QTest::newRow("bleed nearly as loud as the flank") << -12.5 << -11.0 << 1.0;
    }
    void anAttackBeginsOverBleed() {
        QFETCH(double, softest);
        QFETCH(double, loudest);
        QFETCH(double, varies);
        constexpr double soundPerMs = 12;
        constexpr std::size_t begins = 140;
        int far = 0;
        for (unsigned seed = 1; seed <= 200; ++seed) {
            Dice dice(seed);
            const double bleed = dice.between(softest, loudest), steep = dice.between(20, 80);
            const auto rise = begins + static_cast<std::size_t>(dice.between(2, 6) * soundPerMs);
            MainRise attack{Sound(480), rise, begins - 48};
            double now = bleed;
            for (std::size_t i = 0; i < attack.envelope.size(); ++i) {
                if (i % 10 == 0)
                    now = bleed + dice.between(-varies, varies);
                const double ms = (static_cast<double>(i) - static_cast<double>(begins)) / soundPerMs;
                const bool dip = i + 14 > rise && i + 6 < rise;
                const double drum = i >= rise ? 0 : std::min(dip ? -12.0 : -5.0, steep * ms - 38);
                attack.envelope[i] = static_cast<float>(std::pow(10, std::max(now, drum) / 20));
            }
            const auto found = startOf(attack, attack.envelope, soundPerMs);
            const double seen = begins + (0.4 - 0.15) * soundPerMs; // an envelope begins 0.4 ms early
            far += !found || std::abs(found->at - found->hidden - seen) > soundPerMs ? 1 : 0;
        }
        QVERIFY2(far <= 10, qPrintable(QString::number(far)));
    }
    /// Before the attack a ring falls all the way back, as in most strokes of a fast pedal; some strokes lack it.
    void aRingThatFallsGoingBackIsNoAttack() {
        constexpr int soundPerMs = 12, rise = 240, reach = 5;
        MainRise attack{Sound(480), rise};
        Sound sure(480);
        for (int i = rise - reach; i < 480; ++i)
            attack.envelope[static_cast<std::size_t>(i)] = sure[static_cast<std::size_t>(i)] = 1;
        for (int back = 1; back < 5 * soundPerMs; ++back) // from −26 dB down to −37
            attack.envelope[static_cast<std::size_t>(rise - reach - back)] =
                0.05F * std::pow(10.0F, -2.2F * static_cast<float>(back) / soundPerMs / 20);
        const auto found = startOf(attack, sure, soundPerMs);
        QVERIFY(found.has_value());
        QVERIFY2(std::abs(found->at - (rise - 0.15 * soundPerMs)) <= 1.5, qPrintable(QString::number(found->at)));
    }
    void contoursAreLaidOverEachOther() {
        constexpr double soundPerMs = 12;
        const auto attackAt = [](std::size_t at, float touch) {
            MainRise attack{Sound(480, 0.001F), at};
            for (std::size_t i = at - 60; i < 480; ++i)
                attack.envelope[i] = i < at ? touch : std::exp(-static_cast<float>(i - at) / 100);
            return attack;
        };
        const MainRise known = attackAt(200, 0.2F);
        for (const std::size_t at : {170, 200, 243})
            QCOMPARE(*contourLag(known, attackAt(at, 0.2F), soundPerMs), static_cast<double>(at) - 200);
        MainRise elsewhere = attackAt(200, 0.2F); // the rise was seen too late
        elsewhere.at = 240;
        QVERIFY(std::abs(*contourLag(known, elsewhere, soundPerMs)) <= 1);
        QVERIFY(!contourLag(known, {Sound(480, 1), 200}, soundPerMs)); // a tone
    }
};

QTEST_APPLESS_MAIN(TestStrokeStart)
#include "tst_stroke_start.moc"
