// What is weighed when all strokes are known.
#include "strokes/evidence_trees.h"
#include "strokes/stroke_weighing.h"
#include "support/dice.h"
#include "support/labelled_events.h"

#include <QtTest>

using namespace lampo;
using namespace lampo::test;

class TestEvidence : public QObject {
    Q_OBJECT
    RandomKit kit_ = randomKit(6007); // not among those that the trees were grown on
    LabelledKit labelled_ = labelledKit(kit_);

private slots:
    void initTestCase() { QVERIFY2(!kit_.mics.empty(), "fluidsynth and the soundfonts are needed"); }

    /// Whatever is told, there is an answer.
    void everyEvidenceIsAnswered() {
        Dice dice(1);
        double least = 1, most = 0;
        for (int i = 0; i < 20000; ++i) {
            Evidence evidence;
            for (float& number : evidence)
                number = static_cast<float>(dice.between(-80, 400));
            const double likelihood = likelihoodOf(evidence);
            QVERIFY(likelihood >= 0 && likelihood <= 1);
            least = std::min(least, likelihood);
            most = std::max(most, likelihood);
        }
        QVERIFY(least < 0.05 && most > 0.6);
    }

    /// A close mic that is driven 9 dB hotter tells the same.
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
        const EvidenceOfStrokes before(known), after(hot);
        std::size_t compared = 0;
        for (std::size_t e = 0; e < known.moments.events().size(); ++e) {
            if (!canBeWeighed(known, e))
                continue;
            ++compared;
            const Evidence one = before.of(e), other = after.of(e);
            for (std::size_t i = 0; i < one.size(); ++i)
                QVERIFY2(std::abs(one[i] - other[i]) < 0.02F,
                         qPrintable(QStringLiteral("number %1: %2, not %3").arg(i).arg(other[i]).arg(one[i])));
        }
        QVERIFY(compared > 100);
    }

    /// Clear strokes that were missed are found, and clear bleed that was taken for strokes is put right.
    void plantedFaultsAreTurnedRound() {
        StrokesSoFar wrong = labelled_.known;
        weighStrokes(wrong);
        const StrokesSoFar right = wrong;
        auto& events = wrong.moments.events();
        std::vector<std::size_t> planted;
        Dice dice(2);
        for (std::size_t e = 0; e < events.size(); ++e)
            if (labelled_.isWeighed(e) && *labelled_.isStroke[e] == events[e].struck && dice.chance(0.1)) {
                planted.push_back(e);
                events[e].own = events[e].struck ? BandEnergies{} : events[e].added;
                events[e].struck = !events[e].struck;
            }
        QVERIFY(planted.size() > 10);
        weighStrokes(wrong);
        const auto mended = std::count_if(planted.begin(), planted.end(), [&](std::size_t e) {
            return events[e].struck == right.moments.events()[e].struck;
        });
        qInfo("%td of %zu", mended, planted.size());
        QVERIFY(static_cast<double>(mended) >= 0.6 * static_cast<double>(planted.size()));
        for (const std::size_t e : planted)
            if (events[e].struck)
                QVERIFY(weightedPower(events[e].own, labelled_.witnesses[events[e].witness].weights) > 0);
    }

    /// On kits that nothing was grown on, harsher than life among them: what is turned round was wrong.
    void whatIsTurnedRoundWasWrong() {
        std::size_t turned = 0, rightly = 0, lost = 0, strokes = 0;
        for (const std::uint64_t seed : {6001, 6002, 6003, 6004, 6005, 6006}) {
            LabelledKit labelled = labelledKit(randomKit(seed, 1, seed % 2 == 0 ? harshnessOf(seed) : Harshness{}));
            const auto before = labelled.known.moments.events();
            weighStrokes(labelled.known);
            const auto& after = labelled.known.moments.events();
            for (std::size_t e = 0; e < before.size(); ++e) {
                if (!labelled.isWeighed(e))
                    continue;
                const bool isStroke = *labelled.isStroke[e];
                strokes += isStroke && before[e].struck ? 1 : 0;
                if (after[e].struck == before[e].struck)
                    continue;
                ++turned;
                rightly += after[e].struck == isStroke ? 1 : 0;
                lost += isStroke && !after[e].struck ? 1 : 0;
            }
        }
        qInfo("%zu turned round, %zu of them rightly; %zu of %zu strokes lost", turned, rightly, lost, strokes);
        QVERIFY(turned > 50);
        QVERIFY(static_cast<double>(rightly) >= 0.9 * static_cast<double>(turned));
        QVERIFY(static_cast<double>(lost) <= 0.005 * static_cast<double>(strokes));
    }

    void aSingleMicStaysAsItIs() {
        const std::vector<Witness> one{labelled_.witnesses.front()};
        StrokesSoFar alone = strokesByRules(one, labelled_.heard.session.rate);
        const auto before = alone.moments.events();
        weighStrokes(alone);
        for (std::size_t e = 0; e < before.size(); ++e)
            QCOMPARE(alone.moments.events()[e].struck, before[e].struck);
    }
};

QTEST_GUILESS_MAIN(TestEvidence)
#include "tst_evidence.moc"
