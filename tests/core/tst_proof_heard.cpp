#include "core/patch_rig.h"
#include "import/source_search.h"
#include "proof/proof.h"
#include "proof/remedies.h"
#include "proof/sound_content.h"
#include "proof/stroke_places.h"
#include "support/given_candidates.h"

using namespace lampo;
using namespace lampo::test;

/// What is heard of an edit whose recording or corrections are spoiled in known ways. What is put into prints:
/// tst_planted_faults.
class TestProofHeard : public PatchRig {
    Q_OBJECT

    /// Places of one kind, once the seams were placed.
    std::vector<ProofPlace> placesOf(const Session& session, ProofKind kind) {
        const auto searched = withSearchedSeams(session, analyses_, outcome(session), {});
        if (!searched)
            qFatal("%s", searched.error().sentence.c_str());
        heard_ = *searched;
        ProofMemory memory;
        auto proof = proofOf(session, *heard_, memory, {});
        if (!proof)
            qFatal("%s", proof.error().sentence.c_str());
        std::erase_if(proof->places, [&](const ProofPlace& place) {
            MicSet tracers = 0; // no sound
            for (MicIndex mic; mic < session.mics.size(); ++mic)
                tracers |= session.mics[mic].stem.starts_with("tracer") ? onlyMic(mic) : 0;
            return place.kind != kind || (place.mics & ~tracers) == 0;
        });
        for (const ProofPlace& place : proof->places)
            qInfo("%.3f s + %.0f ms: %s", static_cast<double>(place.where.begin.frame) / session.rate.hz,
                  toMilliseconds(place.where.length(), session.rate).value, place.text.c_str());
        return proof->places;
    }
    std::shared_ptr<const Outcome> heard_; ///< that placesOf() listened to last
    /// Rewrites a file of the recording. What was heard of it before stays: only the sound is another.
    void spoil(const std::string& stem, char letter, auto&& change) {
        const auto file = folder_.path() / "song" / std::string(1, letter) / (stem + ".wav");
        auto sound = readAudio(file);
        change(sound);
        std::filesystem::remove(file);
        writeAudio(file, sound);
    }
    /// A strong snare stroke in the middle.
    HitIndex snare() {
        const auto hits = hitsOf(Voice::snare);
        const auto is = outcome(session_);
        for (std::size_t i = hits.size() / 2; i < hits.size(); ++i)
            if (is->hits[hits[i]].level > Decibels{-6} && is->landings[hits[i]].state == LandingState::landed)
                return hits[i];
        return hits.front();
    }

private slots:
    void init() {
        std::filesystem::remove_all(folder_ / "song");
        analyses_ = {};
    }

    void aLevelJumpsAtABorder() {
        build("AB", 30);
        const MusicalMap map(session_.map, session_.rate);
        session_ = *edited(session_, TakeEdit{Lay{{map.barStart(6), map.barStart(13)}, TakeIndex{1}, {}}});
        QVERIFY(placesOf(session_, ProofKind::level).empty());
        spoil("snare_top", 'B', [](auto& sound) {
            for (float& sample : sound)
                sample *= 0.5F; // 6.02 dB
        });
        const auto places = placesOf(session_, ProofKind::level);
        QVERIFY(!places.empty());
        for (const ProofPlace& place : places) {
            QCOMPARE(place.mics, onlyMic(session_.micNamed("snare_top")));
            QVERIFY2(std::abs(place.size - 6) < 2.5, place.text.c_str());
        }
        QVERIFY(abs(asSong(places.front().where.begin) - map.barStart(6)) <
                toFrames(Milliseconds{600}, session_.rate));
    }

    void aPatchThatLeavesItsDrumsOtherMicIsTold() {
        build("A", 30);
        const HitIndex hit = snare();
        const auto is = outcome(session_);
        Patch patch;
        patch.kind = PatchKind::shift;
        patch.mics = {"snare_top"};
        patch.at = placeOf(session_, is->hits[hit]);
        patch.before = FrameCount{240};
        patch.length = FrameCount{6000};
        patch.shift = FrameCount{24}; // half a millisecond
        const auto places = placesOf(with({patch}), ProofKind::phase);
        QCOMPARE(places.size(), std::size_t{1});
        QVERIFY2(std::abs(places.front().size - 0.5) < 0.05, places.front().text.c_str());
        QVERIFY(places.front().mics & onlyMic(session_.micNamed("snare_top")));
        const auto remedies = remediesFor(with({patch}), *heard_, places.front());
        QCOMPARE(remedies.back().label, std::string("Take the patch away"));
        patch.mics = snare_; // on both its mics they are as they were
        QVERIFY(placesOf(with({patch}), ProofKind::phase).empty());
    }

    void aMicThatFellSilentInTheRecording() {
        build("A", 30);
        QVERIFY(placesOf(session_, ProofKind::silent).empty());
        spoil("overhead_left", 'A',
              [](auto& sound) { std::fill(sound.begin() + 480000, sound.begin() + 528000, 0.0F); });
        const auto places = placesOf(session_, ProofKind::silent);
        QVERIFY(!places.empty());
        FrameCount longest{};
        for (const ProofPlace& place : places) {
            QCOMPARE(place.mics, onlyMic(session_.micNamed("overhead_left")));
            QVERIFY(place.where.begin.frame > 480000 - 9600 && place.where.end.frame < 528000 + 9600);
            longest = std::max(longest, place.where.length());
        }
        QVERIFY(longest > FrameCount{43200}); // of a second
    }

    /// A wrong mark: the hit lands by it, and its sound does not.
    void aHitThatSoundsLateIsLooseWhateverItsMarkSays() {
        build("A", 25);
        const HitIndex hit = snare();
        const SongHit is = outcome(session_)->hits[hit];
        for (const std::int64_t off : {-720, 720}) {
            Correction mark = correctionOf(session_, is, Correction::Kind::mark);
            mark.to = is.anchor + FrameCount{off};
            const Session moved = *edited(session_, DetectionEdit{Correct{mark}});
            const auto places = placesOf(moved, ProofKind::loose);
            const auto found = std::find_if(places.begin(), places.end(), [&](const ProofPlace& place) {
                return place.hit && heard_->hits[*place.hit].found() == is.found();
            });
            QVERIFY(found != places.end());
            QVERIFY2(std::abs(found->size - 15) < 1.5, found->text.c_str());
            QCOMPARE(*found->late<FrameCount{}, off> 0); // marked late, it sounds early
            const auto remedies = remediesFor(moved, *heard_, *found);
            QCOMPARE(remedies.front().label, std::string("Move its mark to where it sounds"));
            const Session mended = *edited(moved, remedies.front().edit);
            for (const ProofPlace& place : placesOf(mended, ProofKind::loose))
                QVERIFY(!place.hit || heard_->hits[*place.hit].found() != is.found());
        }
    }

    /// Plans as no planner makes them: a slice that comes in behind its attack, and one that goes on into the next.
    void attacksThatThePlanLosesOrDoubles() {
        build("A", 30);
        const auto is = outcome(session_);
        QVERIFY(placesOfStrokes(session_, *is).empty());
        const HitIndex hit = snare();
        const ResultFrame at = is->landings[hit].at;
        Plan plan = *is->plan;
        const auto later = std::find_if(plan.segments.begin(), plan.segments.end(),
                                        [&](const Segment& s) { return s.sounds.contains(at); });
        QVERIFY(later != plan.segments.end() && later != plan.segments.begin());
        const auto earlier = std::prev(later);
        Outcome spoiled = *is;
        const Plan whole = plan;
        const FrameCount away = at - later->sounds.begin + FrameCount{1200};
        later->sounds.begin = later->sounds.begin + away;
        earlier->sounds.end = later->sounds.begin + FrameCount{96};
        earlier->shift = earlier->shift + FrameCount{4800}; // what it plays there is older
        spoiled.plan = std::make_shared<const Plan>(plan);
        const auto lost = placesOfStrokes(session_, spoiled);
        QVERIFY(std::any_of(lost.begin(), lost.end(), [&](const ProofPlace& place) {
            return place.kind == ProofKind::lostAttack && (place.mics & onlyMic(is->hits[hit].mic));
        }));
        plan = whole;
        const auto index = later - plan.segments.begin();
        (void)index;
        auto before =
            plan.segments.begin() + (std::find_if(whole.segments.begin(), whole.segments.end(),
                                                  [&](const Segment& s) { return s.sounds.contains(at); }) -
                                     whole.segments.begin() - 1);
        // The slice before goes on for so long, 30 ms earlier than the next, that its source reaches the stroke.
        before->shift = std::next(before)->shift + FrameCount{-2400};
        before->sounds.end = at + FrameCount{-1200};
        std::next(before)->sounds.begin = before->sounds.end - FrameCount{96};
        spoiled.plan = std::make_shared<const Plan>(plan);
        const auto doubled = placesOfStrokes(session_, spoiled);
        QVERIFY(std::any_of(doubled.begin(), doubled.end(), [&](const ProofPlace& place) {
            return place.kind == ProofKind::doubledAttack && (place.mics & onlyMic(is->hits[hit].mic));
        }));
    }

    /// Where bars are left out, repeated or grafted, and where takes meet, nothing is lost, doubled or filled.
    void bordersAreNoFaults() {
        build("AB", 40);
        const auto count = [&](const Session& session) {
            const auto searched = withSearchedSeams(session, analyses_, outcome(session), {});
            ProofMemory memory;
            const auto proof = proofOf(session, **searched, memory, {});
            return std::count_if(proof->places.begin(), proof->places.end(), [&](const ProofPlace& place) {
                const bool told = place.kind == ProofKind::lostAttack || place.kind == ProofKind::doubledAttack ||
                                  place.kind == ProofKind::stretched || place.kind == ProofKind::stutter;
                if (told)
                    qInfo("%.3f s %s", static_cast<double>(place.where.begin.frame) / session.rate.hz,
                          place.text.c_str());
                return told;
            });
        };
        const auto before = count(session_);
        const MusicalMap map(session_.map, session_.rate);
        for (const Edit& edit :
             {Edit{RepeatBars{3, 2}}, Edit{DeleteBars{6, 2}}, Edit{InsertBars{5, 1}},
              Edit{TakeEdit{Lay{{map.barStart(4), map.barStart(7)}, TakeIndex{1}, {}}}},
              Edit{TakeEdit{Lay{{map.barStart(4), map.barStart(6)}, std::nullopt, {}}}},
              Edit{TakeEdit{Lay{{map.barStart(8), map.barStart(9)}, TakeIndex{0}, FrameCount{3 * 4 * 27692}}}}}) {
            const Session changed = *edited(session_, edit);
            QVERIFY2(count(changed) <= before, describe(session_, edit).c_str());
        }
    }

    /// Each drum's attacks are told against what is usual for it, whatever its sound does first.
    void usualAttacksAreNeitherEarlyNorLate() {
        build("A", 30);
        const auto is = outcome(session_);
        const KitSoundMaker sound =
            [&](const std::shared_ptr<KitReader>& kit) -> Expected<std::unique_ptr<KitSound>> {
            return std::make_unique<RenderedSound>(is->plan, kit);
        };
        const auto heard = attacksHeard(session_, *is, sound, nullptr, {});
        QVERIFY(heard.has_value());
        for (const Voice voice : {Voice::kick, Voice::snare}) {
            std::vector<double> late;
            for (std::size_t hit = 0; hit < is->hits.size(); ++hit)
                if (is->hits[hit].voice == voice && (*heard)[hit])
                    late.push_back((*heard)[hit]->value);
            QVERIFY(late.size() > 5);
            std::nth_element(late.begin(), late.begin() + std::ssize(late) / 2, late.end());
            QVERIFY(std::abs(late[late.size() / 2]) < 0.01);
        }
    }

    /// The same recording elsewhere is the same; another role is listened to otherwise.
    void whatSoundFollowsFrom() {
        build("A", 30);
        Session here = fingerprinted(session_);
        const auto plan = outcome(here)->plan;
        const Range<ResultFrame> stretch{ResultFrame{480000}, ResultFrame{490000}};
        const std::uint64_t before = SoundContent(here, *plan).of(stretch);
        Session elsewhere = here;
        for (MicIndex mic; mic < here.mics.size(); ++mic)
            elsewhere.takes[0].files.change(
                mic, [](SourceFile& file) { file.file = "/elsewhere" / file.file.filename(); });
        QCOMPARE(SoundContent(elsewhere, *plan).of(stretch), before);
        Session other = here;
        other.mics[1].role = Role::overhead;
        QVERIFY(SoundContent(other, *plan).of(stretch) != before);
        Plan moved = *plan;
        for (Segment& segment : moved.segments)
            segment.shift = segment.shift + FrameCount{1};
        QVERIFY(SoundContent(here, moved).of(stretch) != before);
    }

    void whatCannotBeReadIsNamed() {
        build("A", 30);
        const auto is = outcome(session_);
        std::filesystem::remove(folder_.path() / "song" / "A" / "snare_top.wav");
        ProofMemory memory;
        const auto proof = proofOf(session_, *is, memory, {});
        QVERIFY(!proof.has_value());
        QVERIFY2(proof.error().sentence.find("snare_top") != std::string::npos, proof.error().sentence.c_str());
    }

    void itStopsWhenAsked() {
        build("A", 30);
        std::stop_source stop;
        stop.request_stop();
        ProofMemory memory;
        const auto proof = proofOf(session_, *outcome(session_), memory, {{}, stop.get_token()});
        QVERIFY(!proof.has_value());
        QCOMPARE(proof.error().kind, ErrorKind::cancelled);
    }

    /// Nothing to hear: no song, no hits, one mic.
    void hardlyAnything() {
        ProofMemory memory;
        QVERIFY(proofOf({}, *outcomeOf({}, {}), memory, {})->places.empty());
        stems_ = {"kick_in"};
        for (const char letter : {'A'})
            buildTake(folder_ / "song" / std::string(1, letter), letter, 8, stems_);
        session_ = *edited(*importFolder(folder_ / "song" / "A"), SetTempo{{104}});
        const auto unheard = proofOf(session_, *outcome(session_), memory, {});
        QVERIFY(unheard.has_value());
        QVERIFY(std::any_of(unheard->places.begin(), unheard->places.end(), [](const ProofPlace& place) {
            return place.text.find("No hits were found") != std::string::npos;
        }));
        QVERIFY(analyseMissing(session_, analyses_, Listen::toEveryMic, {}).has_value());
        QVERIFY(proofOf(session_, *outcome(session_), memory, {}).has_value());
    }
};

QTEST_APPLESS_MAIN(TestProofHeard)
#include "tst_proof_heard.moc"
