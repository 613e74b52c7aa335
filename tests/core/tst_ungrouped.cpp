#include "advice/hit_edits.h"
#include "advice/hit_stroke.h"
#include "advice/seam_shapes.h"
#include "advice/ungrouped.h"
#include "core/patch_rig.h"
#include "support/dice.h"

using namespace lampo;
using namespace lampo::test;

/// Edits of hits and seams done to some mics alone: on these to the sample, on the others bit for bit as before.
class TestUngrouped : public PatchRig {
    Q_OBJECT

    Expected<Session> only(const Session& session, const Edit& edit) {
        return onMicsAlone(session, analyses_, *outcome(session), some_, edit)
            .and_then([&](const PatchEdit& patches) { return edited(session, patches); });
    }

private slots:
    void initTestCase() { build("A", 30); }

    /// To the sample, once more by what a second move adds, and back where it came from.
    void aMoveIsForSomeMicsOnly() {
        Dice dice(3);
        const Sounds before = printed(session_);
        const auto is = outcome(session_);
        const auto snares = hitsOf(Voice::snare);
        for (std::size_t i = 4; i + 4 < snares.size(); i += 6) {
            const HitIndex hit = snares[i];
            const FrameCount by{dice.upTo(1200) - 600};
            const Edit move = Correct{landedAt(session_, is->hits[hit], is->landings[hit].at + by)};
            const auto moved = only(session_, move);
            QVERIFY(moved.has_value());
            QCOMPARE(moved->patches.size(), std::size_t{1});
            const Sounds after = printed(*moved);
            othersAreUntouched(before, after);
            const auto places = traced(after.at("tracer_up"));
            const std::int64_t stroke = is->hits[hit].anchor.frame;
            const auto at = static_cast<std::size_t>((is->landings[hit].at + by).frame);
            QCOMPARE(places[at], stroke);
            QCOMPARE(places[at + 300], stroke + 300);
            QCOMPARE(outcome(*moved)->landings[hit].at, is->landings[hit].at); // of all the others
            const auto again = only(*moved, move);
            QVERIFY(again.has_value());
            QCOMPARE(again->patches.size(), std::size_t{1});
            QCOMPARE(again->patches.front().shift, by + by);
        }
    }
    /// Pinned, sent to another line, shoved, in a phrase: as the whole kit would have landed.
    void everyMoveIsForSomeMicsOnly() {
        const auto is = outcome(session_);
        const auto snares = hitsOf(Voice::snare);
        const std::vector<HitIndex> run{snares[6], {snares[6] + 1}, {snares[6] + 2}, {snares[6] + 3}};
        const std::vector<std::pair<const char*, Expected<Edit>>> edits{
            {"pinned", Edit{Correct{correctionOf(session_, is->hits[snares[6]], Correction::Kind::pin)}}},
            {"sent", sendEdit(session_, *is, std::vector{snares[6]}, 1)},
            {"phrase", phraseEdit(session_, *is, run, 0)},
            {"slipped", slipEdit(session_, *is, run, FrameCount{300})}};
        for (const auto& [what, edit] : edits) {
            QVERIFY2(edit.has_value(), what);
            const auto moved = only(session_, *edit);
            QVERIFY2(moved.has_value(), what);
            const auto all = outcome(*edited(session_, *edit));
            QVERIFY2(!moved->patches.empty(), what);
            for (const Patch& patch : moved->patches) {
                const auto hit = std::find_if(is->hits.begin(), is->hits.end(),
                                              [&](const SongHit& one) { return liesOn(session_, patch, one); });
                const auto i = static_cast<std::size_t>(hit - is->hits.begin());
                QCOMPARE(patch.shift, all->landings[i].at - is->landings[i].at);
                QVERIFY2(patch.shift != FrameCount{}, what);
            }
            const auto landed = outcome(*moved);
            for (std::size_t i = 0; i < is->hits.size(); ++i)
                QCOMPARE(landed->landings[i].at, is->landings[i].at);
        }
    }
    void aStrokeIsTakenOutOfSomeMicsOnly() {
        const Sounds before = printed(session_);
        const auto is = outcome(session_);
        const HitIndex hit = hitsOf(Voice::snare)[8];
        const auto without =
            only(session_, Correct{correctionOf(session_, is->hits[hit], Correction::Kind::remove)});
        QVERIFY(without.has_value());
        const Sounds after = printed(*without);
        othersAreUntouched(before, after);
        QCOMPARE(outcome(*without)->hits.size(), is->hits.size());
        const auto at = static_cast<std::size_t>(is->landings[hit].at.frame);
        for (std::size_t i = 0; i < 1000; ++i)
            QCOMPARE(after.at("snare_top")[at + i], 0.0F);
    }
    /// Moved either way, longer and shorter: on the others it lies where it lay; on these one side passes into the
    /// other where it shall, and nothing steps.
    void aSeamIsShapedForSomeMicsOnly() {
        const Sounds before = printed(session_);
        const auto is = outcome(session_);
        std::size_t tried = 0;
        for (SeamIndex index{20}; index < is->plan->seams.size() && tried < 8; index = {index + 9}) {
            const Seam& seam = is->plan->seams[index];
            if (!canBeShaped(seam) || seam.room.length() < FrameCount{2400})
                continue;
            const FrameCount later{tried % 2 == 0 ? -700 : 500};
            const Edit edit = SeamEdit{movedSeams(session_, std::vector{seam}, later)};
            const auto shaped = only(session_, edit);
            if (!shaped)
                continue; // there is no room that way
            ++tried;
            const auto wanted = outcome(*edited(session_, edit))->plan;
            const auto shall = std::find_if(wanted->seams.begin(), wanted->seams.end(),
                                            [&](const Seam& one) { return one.between == seam.between; });
            const Sounds after = printed(*shaped);
            othersAreUntouched(before, after);
            const auto& tracer = after.at("tracer_up");
            const auto all = printed(*edited(session_, edit)).at("tracer_up");
            // Between the two places of the seam it sounds as it would if all mics had been moved.
            const auto from = std::min(seam.range.begin, shall->range.begin),
                       to = std::max(seam.range.end, shall->range.end);
            for (ResultFrame at = from - FrameCount{200}; at < to + FrameCount{200}; at = at + FrameCount{1}) {
                const auto i = static_cast<std::size_t>(at.frame);
                const bool fading = (shall->range.begin <= at && at < shall->range.end) ||
                                    (seam.range.begin <= at && at < seam.range.end);
                if (!fading) // fades between equal sides round
                    QVERIFY2(std::abs(tracer[i] - all[i]) <= std::ldexp(1.0F, -23), qPrintable(QString::number(i)));
            }
        }
        QVERIFY2(tried >= 5, qPrintable(QString::number(tried)));
    }
    void whatIsForAllMicsIsRefused() {
        const auto is = outcome(session_);
        const SongHit& hit = is->hits[hitsOf(Voice::snare)[3]];
        QVERIFY(!only(session_, Correct{correctionOf(session_, hit, Correction::Kind::split)}));
        QVERIFY(!only(session_, SetStrength{50}));
        QVERIFY(!onMicsAlone(session_, analyses_, *is, {},
                             Correct{correctionOf(session_, hit, Correction::Kind::remove)}));
        QVERIFY(editsHitsOrSeams(Correct{correctionOf(session_, hit, Correction::Kind::pin)}));
        QVERIFY(!editsHitsOrSeams(SetStrength{50}));
        QVERIFY(!editsHitsOrSeams(KitEdit{SetMute{MicIndex{0}, true}}));
    }
};

QTEST_APPLESS_MAIN(TestUngrouped)
#include "tst_ungrouped.moc"
