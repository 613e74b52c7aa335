// The edit as others can open it: every cut, fade and place in the files, there and back.
#include "interchange/edit_timeline.h"
#include "interchange/timeline_json.h"
#include "render/renderer.h"
#include "support/dice.h"
#include "support/takes_rig.h"

#include <QtTest>

#include <cmath>

using namespace lampo;
using namespace lampo::test;

namespace {

/// A song of three takes laid at random, with patches on one mic.
TakesRig randomSong(unsigned seed) {
    TakesRig rig(seed);
    Dice dice(seed);
    rig.edit(SetTempo{{120}});
    for (int i = 0; i < 6; ++i) {
        const int first = 1 + dice.upTo(10);
        rig.edit(Lay{TakesRig::barsOf(first, first + 1 + dice.upTo(3)),
                     TakeIndex{static_cast<std::size_t>(dice.upTo(2))}});
    }
    rig.edit(SetFill{static_cast<Fill>(seed % 3)});
    rig.edit(SetStrength{seed % 2 == 0 ? 100.0 : 60.0});
    if (seed % 4 == 1)
        rig.edit(Lay{TakesRig::barsOf(5, 6), std::nullopt}); // a silent bar
    const auto outcome = rig.outcome();
    std::vector<Patch> patches;
    for (std::size_t i = 8; i + 8 < outcome->hits.size(); i += 11) {
        Patch patch;
        const SongHit& hit = outcome->hits[i];
        patch.kind = i % 2 == 0 ? PatchKind::replace : PatchKind::silence;
        patch.mics = {"kick"};
        patch.at = placeOf(rig.session, hit);
        patch.before = toFrames(Milliseconds{5}, rig.session.rate);
        patch.length = toFrames(Milliseconds{60}, rig.session.rate);
        patch.fadeIn = patch.fadeOut = {2};
        if (patch.kind == PatchKind::replace)
            patch.from = placeOf(rig.session, outcome->hits[i - 4]);
        patches.push_back(patch);
    }
    if (!rig.edit(PatchEdit{AddPatches{patches}}))
        throw std::runtime_error("the patches were refused");
    return rig;
}

/// Frames of the result in which a fade of the lane sounds.
std::vector<bool> fadesOf(const Lane& lane, FrameCount length) {
    std::vector<bool> fades(static_cast<std::size_t>(length.frames));
    for (const LaneItem& item : lane.items)
        if (item.in)
            for (std::int64_t at = item.range.begin.frame - item.in->before.frames;
                 at < item.range.begin.frame + item.in->after.frames; ++at)
                fades.at(static_cast<std::size_t>(at)) = true;
    return fades;
}

} // namespace

class TestInterchange : public QObject {
    Q_OBJECT

private slots:
    void everyFrameIsWhereItSays_data() {
        QTest::addColumn<unsigned>("seed");
        for (unsigned seed = 1; seed <= 8; ++seed)
            QTest::addRow("seed %u", seed) << seed;
    }
    /// Outside fades and lengthened tails the rendered mic is the file at the item's place, bit for bit: its
    /// samples are their own positions.
    void everyFrameIsWhereItSays() {
        QFETCH(unsigned, seed);
        const TakesRig rig = randomSong(seed);
        const auto outcome = rig.outcome();
        QVERIFY(outcome->plan->patches.size() > 3);
        const EditTimeline timeline = timelineOf(rig.session, *outcome->plan);
        QCOMPARE(timeline.lanes.size(), rig.session.mics.size());
        Renderer renderer(outcome->plan, std::make_shared<KitReader>(rig.session));
        std::vector<std::vector<float>> mics(
            3, std::vector<float>(static_cast<std::size_t>(outcome->plan->length.frames)));
        const std::vector<std::span<float>> out(mics.begin(), mics.end());
        QVERIFY(renderer.render(ResultFrame{0}, mics[0].size(), out).has_value());
        std::size_t compared = 0, patched = 0;
        for (const std::size_t mic : {0U, 2U}) {
            const Lane& lane = timeline.lanes[mic];
            const auto fades = fadesOf(lane, outcome->plan->length);
            ResultFrame at{0};
            for (const LaneItem& item : lane.items) {
                QCOMPARE(item.range.begin.frame, at.frame);
                at = item.range.end;
                for (std::int64_t i = item.range.begin.frame; i < at.frame && !item.tail; ++i) {
                    const auto place = static_cast<std::size_t>(i);
                    if (fades[place])
                        continue;
                    ++compared;
                    const std::int64_t source = item.from.frame + (i - item.range.begin.frame);
                    const float expected = item.silent || item.gain == 0 ? 0.0F
                                           : mic == 0
                                               ? static_cast<float>(std::ldexp(static_cast<double>(source), -24))
                                               : 0.125F * static_cast<float>(item.take.front() - 'A' + 1);
                    if (source >= 0 && mics[mic][place] != expected)
                        QFAIL(qPrintable(QStringLiteral("mic %1 at %2: %3, not %4")
                                             .arg(mic)
                                             .arg(i)
                                             .arg(mics[mic][place])
                                             .arg(expected)));
                }
                patched += item.gain == 0 ? 1 : 0;
            }
            QCOMPARE(at - ResultFrame{0}, outcome->plan->length);
        }
        QVERIFY(compared > mics[0].size()); // most of two mics
        QVERIFY(patched > 0);
        QVERIFY(timeline.lanes[0].items.size() > timeline.lanes[1].items.size()); // patches lie on one mic alone
    }

    /// Every seam of the plan is a fade of the same length in every lane that no patch covers.
    void everySeamIsAFade() {
        const TakesRig rig = randomSong(2);
        const auto outcome = rig.outcome();
        const Lane lane = timelineOf(rig.session, *outcome->plan).lanes[1];
        std::size_t found = 0;
        for (const Seam& seam : outcome->plan->seams)
            found += static_cast<std::size_t>(
                std::count_if(lane.items.begin(), lane.items.end(), [&](const LaneItem& item) {
                    return item.in && item.range.begin - item.in->before == seam.range.begin &&
                           item.range.begin + item.in->after == seam.range.end && item.in->kind == name(seam.kind);
                }));
        QCOMPARE(found, outcome->plan->seams.size());
    }

    void thereAndBack_data() { everyFrameIsWhereItSays_data(); }
    void thereAndBack() {
        QFETCH(unsigned, seed);
        const TakesRig rig = randomSong(seed);
        const EditTimeline timeline = timelineOf(rig.session, *rig.outcome()->plan);
        for (const auto& folder :
             {std::filesystem::path("/elsewhere"), rig.session.takes[0].folder.parent_path()}) {
            const std::string text = timelineText(timeline, folder);
            const auto back = timelineFrom(text, folder, "x.otio");
            QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
            QVERIFY(*back == timeline);
        }
    }

    void namesOfAnyKindSurvive() {
        EditTimeline timeline{"Ünder „the\" <bridge>\x80\xff", {44100}, {}, {}, {}};
        timeline.markers = {{"Lamp\nlit %41", {ResultFrame{0}, ResultFrame{10}}}};
        LaneItem item;
        item.range = {ResultFrame{0}, ResultFrame{10}};
        item.take = "A";
        timeline.lanes = {{"snare, top? #1 %20\xfe", {item}}};
        LaneMedia media{"A", timeline.lanes[0].mic,
                        SourceFile("/a b/sn%41?re#\xfe.wav", 3, FrameCount{-7}, FrameCount{99}), FrameCount{120}};
        media.source.content = 0xfedcba9876543210;
        timeline.media = {media};
        for (const char* folder : {"/a b", "/c"}) {
            const auto back = timelineFrom(timelineText(timeline, folder), folder, "x");
            QVERIFY2(back.has_value(), back ? "" : back.error().sentence.c_str());
            QVERIFY(*back == timeline);
        }
        QVERIFY(timelineText(timeline, "/a b").find("\"target_url\": \"sn%2541%3Fre%23%FE.wav\"") !=
                std::string::npos);
    }

    void damageIsOneSentence_data() {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        const auto row = [](const char* from, const char* to) { QTest::newRow(from) << from << to; };
        row("Timeline.1", "Timeline.9");
        row("RationalTime.1", "Rational");
        row("\"rate\": 48000.0", "\"rate\": 30.0");
        row("\"value\": 0.0", "\"value\": 0.5");
        row("\"take\": \"A\"", "\"take\": \"alpha\"");
        row("SMPTE_Dissolve\"", "SMPTE_Dissolve\", \"x\": [[[[[[[[[[[[[[[[[1]]]]]]]]]]]]]]]]]");
        row("\"curve\": \"matched\"", "\"curve\": \"wobbly\"");
        row("Track.1", "Marker.2");
        row("children", "childish");
    }
    void damageIsOneSentence() {
        QFETCH(QString, from);
        QFETCH(QString, to);
        const TakesRig rig = randomSong(2);
        QString text = QString::fromStdString(timelineText(timelineOf(rig.session, *rig.outcome()->plan), "/x"));
        QVERIFY(text.contains(from));
        text.replace(from, to);
        const auto back = timelineFrom(text.toStdString(), "/x", "\"x.otio\"");
        QVERIFY(!back);
        QVERIFY(back.error().sentence.starts_with("\"x.otio\" is no edit of this program"));
    }
};

QTEST_GUILESS_MAIN(TestInterchange)
#include "tst_interchange.moc"
