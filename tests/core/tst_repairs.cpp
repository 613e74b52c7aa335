#include "advice/borrowed.h"
#include "advice/donors.h"
#include "advice/kept_elsewhere.h"
#include "advice/patch_advice.h"
#include "advice/silences.h"
#include "core/patch_rig.h"
#include "demo_kit/score.h"
#include "support/dice.h"

#include <numbers>

using namespace lampo;
using namespace lampo::test;

/// Stretches silenced and borrowed, strokes levelled and replaced: believed from what is printed.
class TestRepairs : public PatchRig {
    Q_OBJECT

    /// Those of the hits that are ghost notes, or backbeats, in the score that take A was made from.
    std::vector<HitIndex> trueSnares(const Outcome& outcome, std::vector<HitIndex> hits, bool ghosts) const {
        const int rate = session_.rate.hz;
        const auto strokes = demo::performance(demo::lighthouseRelay(rate), 'A', rate);
        std::erase_if(hits, [&](HitIndex hit) {
            return std::none_of(strokes.begin(), strokes.end(), [&](const demo::Stroke& stroke) {
                return stroke.drum == demo::Drum::snare && stroke.ghost == ghosts &&
                       std::abs(outcome.hits[hit].found().frame - stroke.sample) <= rate / 100;
            });
        });
        return hits;
    }

private slots:
    void initTestCase() {
        build("AB", 30);
        // Take B's tracer is negative: it cannot be taken for A's.
        const auto file = session_.takes[1].files[*session_.micNamed("tracer_up")].file;
        auto tracer = readAudio(file);
        for (float& frame : tracer)
            frame = -frame;
        writeAudio(file, tracer, SampleFormat::wav32f);
    }

    /// What these mics sound like is what they would if the whole take were laid in there, bit for bit; the others
    /// sound as they did.
    void aStretchIsBorrowed_data() {
        QTest::addColumn<std::size_t>("take");
        QTest::addColumn<int>("bars");
        QTest::addColumn<double>("strength");
        QTest::addRow("take B") << std::size_t{1} << 0 << 100.0;
        QTest::addRow("take B as played") << std::size_t{1} << 0 << 0.0;
        QTest::addRow("two bars later") << std::size_t{0} << 2 << 100.0;
        QTest::addRow("take B, a bar before") << std::size_t{1} << -1 << 100.0;
    }
    void aStretchIsBorrowed() {
        QFETCH(std::size_t, take);
        QFETCH(int, bars);
        QFETCH(double, strength);
        const Session session = *edited(session_, SetStrength{strength});
        const MusicalMap map(session.map, session.rate);
        const Range<ResultFrame> stretch{asResult(map.barStart(6)), asResult(map.barStart(8))};
        const auto edit = borrowed(session, analyses_, *outcome(session), stretch, some_, {{take}, bars});
        QVERIFY2(edit.has_value(), edit ? "" : edit.error().sentence.c_str());
        QVERIFY2(edit->patches.size() > 8, qPrintable(QString::number(edit->patches.size())));
        const Session patched = *edited(session, PatchEdit{*edit});
        const auto plan = outcome(patched)->plan;
        QCOMPARE(plan->patches.size(), edit->patches.size());
        const Sounds before = printed(session), after = printed(patched);
        othersAreUntouched(before, after);
        // Where each frame comes from: one long run per slice, in order, and none of it the plan's own.
        const auto places = traced(after.at("tracer_up")), own = traced(before.at("tracer_up"));
        std::size_t borrowedFrames = 0, frames = 0, inFades = 0;
        std::vector<bool> fading(places.size());
        for (const PlannedPatch& patch : plan->patches)
            for (ResultFrame at = patch.sounds.begin; at < patch.sounds.end; at = at + FrameCount{1})
                if (at < patch.sounds.begin + patch.fadeIn || at >= patch.sounds.end - patch.fadeOut)
                    fading[static_cast<std::size_t>(at.frame)] = true;
        for (const PlannedPatch& patch : plan->patches)
            for (ResultFrame at = patch.sounds.begin + patch.fadeIn; at < patch.sounds.end - patch.fadeOut;
                 at = at + FrameCount{1}) {
                const auto i = static_cast<std::size_t>(at.frame);
                ++frames;
                if (fading[i]) {
                    ++inFades;
                    continue;
                }
                borrowedFrames += places[i] == (take == 1 ? -1 : 1) * (at - patch.from->shift).frame;
            }
        QCOMPARE(borrowedFrames + inFades, frames);
        QVERIFY(frames > 48000 * 4);
        // Nothing but fades lies between one slice and the next: no frame of the plan's own shows.
        const auto first = plan->patches.front().sounds.begin, last = plan->patches.back().sounds.end;
        std::size_t showing = 0;
        for (auto i = static_cast<std::size_t>(first.frame); i < static_cast<std::size_t>(last.frame); ++i)
            showing += !fading[i] && places[i] != 0 && places[i] == own[i];
        QVERIFY2(showing * 1000 < frames, qPrintable(QString::number(showing)));
    }
    void nothingToBorrowIsTold() {
        const auto is = outcome(session_);
        QVERIFY(!borrowed(session_, analyses_, *is, {}, some_, {{1}, 0}));
        QVERIFY(!borrowed(session_, analyses_, *is, {ResultFrame{48000}, ResultFrame{96000}}, {}, {{1}, 0}));
        QVERIFY(!borrowed(session_, analyses_, *is, {ResultFrame{48000}, ResultFrame{96000}}, some_, {{1}, 500}));
    }
    /// Silent from end to end but for its fades, and as loud as ever elsewhere.
    void aStretchIsSilenced() {
        const Range<ResultFrame> stretch{ResultFrame{5 * 48000}, ResultFrame{9 * 48000}};
        const auto edit = silenced(session_, *outcome(session_), stretch, {"tom_rack"});
        QVERIFY(edit.has_value());
        QCOMPARE(edit->patches.size(), std::size_t{1});
        const Sounds before = printed(session_), after = printed(with(*edit));
        const auto fade = static_cast<std::size_t>(toFrames(edit->patches.front().fadeIn, {48000}).frames) + 480;
        for (const auto& [stem, sound] : after)
            for (std::size_t i = 0; i < sound.size(); ++i) {
                const bool inside = stretch.contains(ResultFrame{static_cast<std::int64_t>(i)});
                const bool near = i + fade > 5 * 48000 && i < 9 * 48000 + fade;
                if (stem == "tom_rack" && inside && i > 5 * 48000 + fade && i + fade < 9 * 48000)
                    QCOMPARE(sound[i], 0.0F);
                else if (stem != "tom_rack" || !near)
                    QCOMPARE(sound[i], before.at(stem)[i]);
            }
        QVERIFY(!silenced(session_, *outcome(session_), {}, {"tom_rack"}));
        QVERIFY(!silenced(session_, *outcome(session_), stretch, {}));
    }
    /// The root of the mean square of what was there, counted plainly.
    void whatIsTakenAwayIsTold() {
        const auto edit = tomsSilenced(session_, *outcome(session_));
        QVERIFY(edit.has_value());
        KitReader kit(session_);
        const auto away = takenAway(session_, kit, edit->patches);
        QVERIFY(away.has_value());
        QCOMPARE(away->size(), std::size_t{1});
        const auto sound = sources().at("tom_rack");
        double energy = 0;
        std::int64_t frames = 0;
        for (const Patch& patch : edit->patches)
            for (std::int64_t i = 0; i < patch.length.frames; ++i, ++frames) {
                const double frame = sound[static_cast<std::size_t>((patch.at.at - patch.before).frame + i)];
                energy += frame * frame;
            }
        QCOMPARE(away->front().length.frames, frames);
        QVERIFY(std::abs(away->front().mean.value - 10 * std::log10(energy / static_cast<double>(frames))) < 0.01);
        QVERIFY(away->front().loudest >= away->front().mean);
        const Session patched = with(*edit);
        QCOMPARE(tomSilences(patched).size(), edit->patches.size());
        // Once more it is the same.
        QCOMPARE(edited(patched, PatchEdit{*edit})->patches.size(), edit->patches.size());
    }
    /// What is done to a stroke ends before the next hit's lead-in, whatever drum that is of.
    void slicesEndBeforeTheNextHit() {
        const auto is = outcome(session_);
        const FrameCount leadIn = toFrames(session_.seams.leadIn, session_.rate);
        for (HitIndex hit; hit + 1 < is->hits.size(); ++hit) {
            const Patch patch = overSlice(session_, *is, hit, PatchKind::gain, snare_);
            QVERIFY(is->landings[hit].at - patch.before + patch.length <= is->landings[hit + 1].at - leadIn);
        }
    }
    /// A donor brings one stroke of its drum, not the one behind it; in its place it is as loud as was wanted.
    /// Every second stroke is followed by another 150 ms later, the others ring alone.
    void aDonorBringsOneStroke() {
        Dice dice(4);
        std::vector<float> sound(48000 * 42);
        const auto strike = [&](std::size_t at, double level) {
            for (std::size_t k = 0; k < 9600; ++k)
                sound[at + k] += static_cast<float>(level * dice.around(0, 0.3, 0.9) *
                                                    std::exp(-0.0008 * static_cast<double>(k)));
        };
        for (std::size_t i = 0; i < 20; ++i) {
            strike(48000 + i * 96000, dice.between(0.5, 0.9));
            if (i % 2 == 0)
                strike(48000 + i * 96000 + 7200, 0.7);
        }
        const TempFolder folder;
        writeAudio(folder / "snare_top.wav", sound);
        const Session session = *edited(*importFolder(folder.path()), SetTempo{{60}});
        Analyses analyses;
        QVERIFY(analyseMissing(session, analyses, Listen::toWitnesses, {}).has_value());
        const auto is = outcomeOf(session, analyses);
        QVERIFY(is->hits.size() >= 28);
        std::size_t followed = 0;
        for (HitIndex hit; hit < is->hits.size(); ++hit) {
            const auto donors = donorsFor(session, *is, hit);
            if (!donors)
                continue;
            for (const Donor& donor : *donors) {
                const auto patch = replacement(session, *is, hit, donor, DonorLevel::replaced);
                QVERIFY(patch.has_value());
                QVERIFY(donor.at.at - patch->before + patch->length <= donor.at.at + donor.behind);
                followed += donor.behind < FrameCount{9600} && patch->length < FrameCount{9600};
                QVERIFY(std::abs(donor.level.value + patch->gain.value -
                                 strokeOf(*is, is->hits[hit])->level.value) < 1e-9);
            }
            // Those that ring alone stand before those that are cut off.
            if (hit + 1 < is->hits.size() && is->landings[hit + 1].at - is->landings[hit].at > FrameCount{40000})
                QVERIFY(donors->front().behind > FrameCount{40000});
        }
        QVERIFY(followed > 50);
    }
    /// One burst that three mics hear at known levels.
    void whatOtherMicsKeepIsTold() {
        Dice dice(9);
        std::vector<float> burst(2400);
        for (std::size_t i = 0; i < burst.size(); ++i)
            burst[i] = static_cast<float>(0.5 * std::sin(0.05 * static_cast<double>(i)) *
                                          std::exp(-0.002 * static_cast<double>(i)));
        const TempFolder folder;
        for (const auto& [stem, level] : {std::pair("snare_top", 0.0), std::pair("overhead_left", -9.0),
                                          std::pair("tom_rack", -22.0), std::pair("kick_in", -60.0)}) {
            std::vector<float> sound(96000);
            for (float& frame : sound)
                frame = static_cast<float>(dice.around(0, 1e-5, 1e-4));
            for (std::size_t i = 0; i < burst.size(); ++i)
                sound[48000 + i] += static_cast<float>(std::pow(10, level / 20)) * burst[i];
            writeAudio(folder / (std::string(stem) + ".wav"), sound);
        }
        const Session session = *importFolder(folder.path());
        Patch patch;
        patch.mics = {"snare_top"};
        patch.at = {'A', SourceFrame{48000}};
        KitReader kit(session);
        const auto kept = keptElsewhere(session, kit, patch);
        QVERIFY(kept.has_value());
        QCOMPARE(kept->size(), std::size_t{2});
        QVERIFY((*kept)[0].mic == "overhead_left" && std::abs((*kept)[0].level.value + 9) < 0.1);
        QVERIFY((*kept)[1].mic == "tom_rack" && std::abs((*kept)[1].level.value + 22) < 0.1);
    }
    /// Levels: each drum to its own median; a second time changes nothing; a value instead; all mics.
    void drumsAreLevelledByThemselves() {
        std::vector<HitIndex> chosen = hitsOf(Voice::kick);
        const auto snares = hitsOf(Voice::snare);
        chosen.insert(chosen.end(), snares.begin(), snares.end());
        std::sort(chosen.begin(), chosen.end());
        const auto is = outcome(session_);
        const auto edit = levelled(session_, *is, chosen, 100);
        QVERIFY(edit.has_value());
        const Session flat = with(*edit);
        const auto targets = levelTargets(session_, *is, chosen);
        const auto isOwnMedian = [&](std::vector<HitIndex> hits) {
            std::sort(hits.begin(), hits.end(), [&](HitIndex a, HitIndex b) {
                return strokeOf(*is, is->hits[a])->level < strokeOf(*is, is->hits[b])->level;
            });
            const double median = strokeOf(*is, is->hits[hits[hits.size() / 2]])->level.value;
            return std::all_of(hits.begin(), hits.end(), [&](HitIndex hit) { return targets.at(hit) == median; });
        };
        const auto backbeats = trueSnares(*is, snares, false), ghosts = trueSnares(*is, snares, true);
        QVERIFY(backbeats.size() > 15 && ghosts.size() > 10);
        QVERIFY(isOwnMedian(hitsOf(Voice::kick)) && isOwnMedian(backbeats));
        // Backbeats among themselves, ghost notes among themselves.
        const auto spread = [&](const Session& session, const std::vector<HitIndex>& hits) {
            double low = 99, high = -99;
            for (const HitIndex hit : hits) {
                const double level = strokeOf(*is, is->hits[hit])->level.value;
                low = std::min(low, level + patchedGain(session, is->hits[hit]));
                high = std::max(high, level + patchedGain(session, is->hits[hit]));
            }
            return high - low;
        };
        QVERIFY(spread(session_, hitsOf(Voice::kick)) > 1 && spread(session_, backbeats) > 1);
        QVERIFY(spread(flat, hitsOf(Voice::kick)) <= 0.11);
        QVERIFY2(spread(flat, backbeats) <= 0.11, qPrintable(QString::number(spread(flat, backbeats))));
        QVERIFY(spread(session_, ghosts) > 3.5); // dB from the softest velocity, 0.12, to the loudest, 0.18
        QVERIFY2(spread(flat, ghosts) <= 0.11, qPrintable(QString::number(spread(flat, ghosts))));
        for (const Patch& patch : edit->patches)
            QVERIFY2(std::abs(patch.gain.value) < 12, qPrintable(QString::number(patch.gain.value)));
        const auto again = levelled(flat, *outcome(flat), chosen, 100);
        QVERIFY(again && edited(flat, PatchEdit{*again})->patches == flat.patches);
        // Not the ghost notes: what is 25 dB softer a gain of 24 dB does not reach.
        const auto value = levelled(session_, *is, backbeats, 100, Decibels{-3});
        QVERIFY(value.has_value());
        const Session at = with(*value);
        for (const HitIndex hit : backbeats)
            QVERIFY(std::abs(strokeOf(*is, is->hits[hit])->level.value + patchedGain(at, is->hits[hit]) + 3) <
                    0.06);
        const auto all = louder(session_, *is, std::vector{snares[4]}, {-2}, {PatchMics::Which::all});
        QVERIFY(all && all->patches.front().mics.size() == session_.mics.size());
        const auto twice = louder(with(*all), *is, std::vector{snares[4]}, {-2}, {PatchMics::Which::all});
        QCOMPARE(twice->patches.front().gain.value, -4.0);
    }
};

QTEST_APPLESS_MAIN(TestRepairs)
#include "tst_repairs.moc"
