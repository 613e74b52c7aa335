// What is revised when all strokes are known.
#include "strokes/boosted_trees.h"
#include "strokes/stroke_revision.h"
#include "support/dice.h"
#include "support/labelled_events.h"

#include <QtTest>

using namespace lampo;
using namespace lampo::test;

class TestStrokeRevision : public QObject {
    Q_OBJECT
    RandomKit kit_ = randomKit(6007); // not among those that the trees were trained on
    LabelledKit labelled_ = labelledKit(kit_);

private slots:
    void initTestCase() { QVERIFY2(!kit_.mics.empty(), "fluidsynth and the soundfonts are needed"); }

    /// Whatever the features, there is an answer.
    void everyEventHasAProbability() {
        Dice dice(1);
        double least = 1, most = 0;
        for (int i = 0; i < 20000; ++i) {
            StrokeFeatures features;
            for (float& feature : features)
                feature = static_cast<float>(dice.between(-80, 400));
            const double probability = strokeProbability(features);
            QVERIFY(probability >= 0 && probability <= 1);
            least = std::min(least, probability);
            most = std::max(most, probability);
        }
        QVERIFY(least < 0.05 && most > 0.6);
    }

    /// A close mic that is driven 9 dB hotter has the same features.
    void gainsDoNotMatter() {
        std::vector<Witness> close = labelled_.witnesses;
        std::erase_if(close, [](const Witness& one) { return one.place == Witness::Place::overhead; });
        const StrokesSoFar known = strokesByRules(close, labelled_.heard.session.rate);
        StrokesSoFar hot = known;
        constexpr std::uint32_t witness = 1;
        constexpr double gain = 9;
        const auto louder = [&](BandEnergies& bands) {
            for (float& power : bands)
                power *= static_cast<float>(std::pow(10.0, gain / 10));
        };
        for (Event& event : hot.moments.events())
            if (event.witness == witness) {
                event.level += gain;
                louder(event.added);
                louder(event.before);
                louder(event.own);
            }
        hot.drums[witness].strong.value += gain;
        hot.levels[witness].loudest += gain;
        for (std::size_t other = 0; other < hot.paths.size(); ++other) {
            louder(hot.paths.at(other, witness).gain);
            louder(hot.paths.at(other, witness).shape);
            for (BandEnergies* bands : {&hot.paths.at(witness, other).gain, &hot.paths.at(witness, other).shape})
                for (float& power : *bands)
                    power *= static_cast<float>(std::pow(10.0, -gain / 10));
        }
        const FeatureReader before(known), after(hot);
        std::size_t compared = 0;
        for (std::size_t e = 0; e < known.moments.events().size(); ++e) {
            if (!canBeRevised(known, e))
                continue;
            ++compared;
            const StrokeFeatures one = before.of(e), other = after.of(e);
            for (std::size_t i = 0; i < one.size(); ++i)
                QVERIFY2(std::abs(one[i] - other[i]) < 0.02F,
                         qPrintable(QStringLiteral("feature %1: %2, not %3").arg(i).arg(other[i]).arg(one[i])));
        }
        QVERIFY(compared > 100);
    }

    /// Clear strokes that were missed are found, and clear bleed that was taken for strokes is put right.
    void plantedFaultsAreReversed() {
        StrokesSoFar wrong = labelled_.known;
        reviseStrokes(wrong);
        const StrokesSoFar right = wrong;
        auto& events = wrong.moments.events();
        std::vector<std::size_t> planted;
        Dice dice(2);
        for (std::size_t e = 0; e < events.size(); ++e)
            if (labelled_.isLabelled(e) && *labelled_.isStroke[e] == events[e].struck && dice.chance(0.1)) {
                planted.push_back(e);
                events[e].own = events[e].struck ? BandEnergies{} : events[e].added;
                events[e].struck = !events[e].struck;
            }
        QVERIFY(planted.size() > 10);
        reviseStrokes(wrong);
        const auto mended = std::count_if(planted.begin(), planted.end(), [&](std::size_t e) {
            return events[e].struck == right.moments.events()[e].struck;
        });
        qInfo("%td of %zu", mended, planted.size());
        QVERIFY(static_cast<double>(mended) >= 0.6 * static_cast<double>(planted.size()));
        for (const std::size_t e : planted)
            if (events[e].struck)
                QVERIFY(weightedPower(events[e].own, labelled_.witnesses[events[e].witness].weights) > 0);
    }

    /// On kits that nothing was trained on, harsher than life among them: what is reversed was wrong.
    void whatIsReversedWasWrong() {
        std::size_t reversed = 0, rightly = 0, lost = 0, strokes = 0;
        for (const std::uint64_t seed : {6001, 6002, 6003, 6004, 6005, 6006}) {
            LabelledKit labelled = labelledKit(randomKit(seed, 1, seed % 2 == 0 ? harshnessOf(seed) : Harshness{}));
            const auto before = labelled.known.moments.events();
            reviseStrokes(labelled.known);
            const auto& after = labelled.known.moments.events();
            for (std::size_t e = 0; e < before.size(); ++e) {
                if (!labelled.isLabelled(e))
                    continue;
                const bool isStroke = *labelled.isStroke[e];
                strokes += isStroke && before[e].struck ? 1 : 0;
                if (after[e].struck == before[e].struck)
                    continue;
                ++reversed;
                rightly += after[e].struck == isStroke ? 1 : 0;
                lost += isStroke && !after[e].struck ? 1 : 0;
            }
        }
        qInfo("%zu reversed, %zu of them rightly; %zu of %zu strokes lost", reversed, rightly, lost, strokes);
        QVERIFY(reversed > 50);
        QVERIFY(static_cast<double>(rightly) >= 0.9 * static_cast<double>(reversed));
        QVERIFY(static_cast<double>(lost) <= 0.005 * static_cast<double>(strokes));
    }

    void aSingleMicStaysAsItIs() {
        const std::vector<Witness> one{labelled_.witnesses.front()};
        StrokesSoFar alone = strokesByRules(one, labelled_.heard.session.rate);
        const auto before = alone.moments.events();
        reviseStrokes(alone);
        for (std::size_t e = 0; e < before.size(); ++e)
            QCOMPARE(alone.moments.events()[e].struck, before[e].struck);
    }
};

QTEST_GUILESS_MAIN(TestStrokeRevision)
#include "tst_stroke_revision.moc"
