#include "deliver/print.h"
#include "deliver/report.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "pipeline/searched_seams.h"
#include "project/project_file.h"
#include "support/built_kit.h"
#include "support/dice.h"
#include "support/laid.h"
#include "support/temp_folder.h"

#include <QtTest>
#include <nlohmann/json.hpp>

#include <cmath>
#include <cstring>

using namespace lampo;
using namespace lampo::test;

namespace {

using Sounds = std::map<std::string, std::vector<float>>; ///< by mic

/// The whole of a fade is the patch's; outside both fades a patch sounds alone.
bool insideFade(const PlannedPatch& patch, std::int64_t at) {
    return at < (patch.sounds.begin + patch.fadeIn).frame || at >= (patch.sounds.end - patch.fadeOut).frame;
}

} // namespace

/// Exceptions on some mics, on top of the one plan: what is printed with them, sample by sample.
class TestPatches : public QObject {
    Q_OBJECT
    TempFolder folder_;
    Session session_;
    Analyses analyses_;
    std::vector<std::string> stems_{"kick_in", "snare_top", "snare_bottom", "tom_rack", "overhead_left"};

    std::shared_ptr<const Outcome> outcome(const Session& session) { return outcomeOf(session, analyses_); }
    Sounds printed(const Session& session) {
        const auto out = folder_ / "out";
        std::filesystem::remove_all(out);
        Sounds sounds;
        if (!print(session, outcome(session)->plan, {out, SampleFormat::wav32f}, {}))
            return sounds;
        for (const Mic& mic : session.mics)
            sounds[mic.stem] = readAudio(out / (mic.stem + ".wav"));
        return sounds;
    }
    Sounds sources() {
        Sounds sounds;
        for (const Mic& mic : session_.mics)
            sounds[mic.stem] = readAudio(folder_.path() / "A" / (mic.stem + ".wav"));
        return sounds;
    }
    Patch onHit(std::size_t hit, PatchKind kind, std::vector<std::string> mics) {
        Patch patch;
        patch.kind = kind;
        patch.mics = std::move(mics);
        patch.at = {'A', outcome(session_)->hits[hit].found()};
        patch.before = {480};
        patch.length = {7200};
        return patch;
    }
    Session with(const std::vector<Patch>& patches) { return *edited(session_, PatchEdit{AddPatches{patches}}); }

private slots:
    void initTestCase() {
        const BuiltTake take = buildTake(folder_ / "A", 'A', 24, stems_, SampleFormat::wav24);
        addTracers(folder_ / "A", take.length);
        auto session = importFolder(folder_ / "A");
        QVERIFY(session.has_value());
        session_ = *edited(*session, SetTempo{{104}});
        QVERIFY(analyseMissing(session_, analyses_, Listen::toWitnesses, {}).has_value());
        QVERIFY(outcome(session_)->hits.size() > 60);
    }
    /// Outside patches all mics are what they are without; inside, position and gain are what the patch says.
    void patchesAreHeardWhereTheyLieAndNowhereElse() {
        Dice dice(7);
        std::vector<Patch> patches;
        for (std::size_t hit = 4; hit + 4 < outcome(session_)->hits.size(); hit += 4) {
            Patch patch = onHit(hit, static_cast<PatchKind>(dice.upTo(3)), {"snare_top", "tracer_up"});
            patch.before = {dice.upTo(600)};
            patch.length = {2000 + dice.upTo(6000)};
            patch.fadeIn = {dice.between(0.2, 10)};
            patch.fadeOut = {dice.between(0.2, 30)};
            patch.gain = {dice.between(-20, 6)};
            if (patch.kind == PatchKind::shift)
                patch.shift = {dice.upTo(800) - 400};
            if (patch.kind == PatchKind::replace)
                patch.from = TakePlace{'A', outcome(session_)->hits[hit - 3].found()};
            patches.push_back(patch);
        }
        const Session patched = with(patches);
        const auto plan = outcome(patched)->plan;
        QCOMPARE(plan->patches.size(), patches.size());
        const Sounds before = printed(session_), after = printed(patched), source = sources();
        for (const Mic& mic : session_.mics) {
            const bool lies = mic.stem == "snare_top" || mic.stem == "tracer_up";
            std::vector<const PlannedPatch*> over(before.at(mic.stem).size());
            if (lies)
                for (const PlannedPatch& patch : plan->patches)
                    std::fill(over.begin() + patch.sounds.begin.frame, over.begin() + patch.sounds.end.frame,
                              &patch);
            for (std::size_t i = 0; i < over.size(); ++i) {
                const float is = after.at(mic.stem)[i], was = before.at(mic.stem)[i];
                if (!over[i]) {
                    QVERIFY2(std::memcmp(&is, &was, sizeof is) == 0, qPrintable(QString::number(i)));
                    continue;
                }
                if (insideFade(*over[i], static_cast<std::int64_t>(i)))
                    continue;
                const PlannedPatch& patch = *over[i];
                const auto from =
                    patch.from ? (ResultFrame{static_cast<std::int64_t>(i)} - patch.from->shift).frame : 0;
                const float wanted =
                    patch.gain * (patch.from ? source.at(mic.stem)[static_cast<std::size_t>(from)] : was);
                QVERIFY2(std::abs(is - wanted) <= 1e-6F * std::max(1.0F, std::abs(wanted)),
                         qPrintable(QStringLiteral("%1: %2 for %3").arg(i).arg(is).arg(wanted)));
            }
        }
        for (const PlannedPatch& patch : plan->patches) {
            const Patch& said = patches[patch.patch];
            if (said.kind == PatchKind::shift) { // the stroke itself lies so much later than its landing
                const auto segment =
                    std::find_if(plan->segments.begin(), plan->segments.end(), [&](const Segment& s) {
                        return s.sounds.contains(patch.sounds.begin + said.before);
                    });
                QCOMPARE(patch.from->shift - segment->shift, said.shift);
            }
        }
    }
    /// The same at either end as at any seam: no step steeper than what is there.
    void noPatchClicks() {
        const auto hits = outcome(session_)->hits;
        std::vector<Patch> patches;
        for (std::size_t hit = 5; hit + 5 < hits.size(); hit += 5) {
            Patch patch =
                onHit(hit, hit % 2 ? PatchKind::replace : PatchKind::silence, {"snare_top", "snare_bottom"});
            if (patch.kind == PatchKind::replace)
                patch.from = TakePlace{'A', hits[hit - 2].found()};
            patches.push_back(patch);
        }
        const Session patched = with(patches);
        const auto plan = outcome(patched)->plan;
        const Sounds before = printed(session_), after = printed(patched), source = sources();
        const auto steepest = [](const std::vector<float>& sound, std::int64_t from, std::int64_t to) {
            float step = 0;
            for (auto i = static_cast<std::size_t>(std::max<std::int64_t>(1, from));
                 i < static_cast<std::size_t>(to) && i < sound.size(); ++i)
                step = std::max(step, std::abs(sound[i] - sound[i - 1]));
            return step;
        };
        double worst = 0;
        for (const PlannedPatch& patch : plan->patches)
            for (const std::string stem : {"snare_top", "snare_bottom"})
                for (const Range<ResultFrame> fade :
                     {Range<ResultFrame>{patch.sounds.begin, patch.sounds.begin + patch.fadeIn},
                      Range<ResultFrame>{patch.sounds.end - patch.fadeOut, patch.sounds.end}}) {
                    const std::int64_t margin = 2400, from = fade.begin.frame, to = fade.end.frame;
                    float around = steepest(before.at(stem), from - margin, to + margin);
                    if (patch.from)
                        around =
                            std::max(around, steepest(source.at(stem), from - patch.from->shift.by.frames - margin,
                                                      to - patch.from->shift.by.frames + margin));
                    worst = std::max<double>(worst,
                                             steepest(after.at(stem), from - 2, to + 2) / std::max(around, 1e-6F));
                }
        qInfo("steepest step in %zu patches: %.2f of that around", plan->patches.size(), worst);
        QVERIFY2(worst <= 1.5, qPrintable(QString::number(worst)));
    }
    /// A stroke that goes far against the other mics is told, with the notch that opens: 8 ms, half a period
    /// at 62.5 Hz.
    void farShiftsAreTold() {
        Patch patch = onHit(10, PatchKind::shift, {"snare_top"});
        patch.shift = {384};
        const auto told = [&](const Session& session) {
            const auto is = outcome(session);
            const auto found = std::find_if(is->warnings.begin(), is->warnings.end(), [](const Warning& warning) {
                return warning.kind == WarningKind::shiftedPatch;
            });
            return found == is->warnings.end() ? std::string() : found->text;
        };
        QCOMPARE(told(with({patch})), std::string("A stroke sounds 8 ms later than the other mics have it, which "
                                                  "cancels first at 62 Hz"));
        patch.shift = {96};
        QCOMPARE(told(with({patch})), std::string());
    }
    void oneThatIsOffIsNotHeard() {
        Patch patch = onHit(10, PatchKind::silence, {"snare_top"});
        patch.on = false;
        const Sounds before = printed(session_), after = printed(with({patch}));
        for (const Mic& mic : session_.mics)
            QVERIFY(before.at(mic.stem) == after.at(mic.stem));
        Session session = with({patch});
        session = *edited(session, PatchEdit{SwitchPatches{{0}, true}});
        QVERIFY(printed(session).at("snare_top") != before.at("snare_top"));
        session = *edited(session, PatchEdit{DeletePatches{{0}}});
        QVERIFY(session.patches.empty());
    }
    /// They go where their hit goes, and are listed when it is gone.
    void theyFollowTheirHits() {
        const Session session = with({onHit(12, PatchKind::gain, {"kick_in"})});
        const SourceFrame at = session.patches.front().at.at;
        const auto place = [&](const Session& now) {
            const auto is = outcome(now);
            const auto hit = std::find_if(is->hits.begin(), is->hits.end(),
                                          [&](const SongHit& one) { return one.found() == at; });
            return std::pair(is->landings[static_cast<std::size_t>(hit - is->hits.begin())].at - FrameCount{480},
                             is->plan->patches.front().sounds.begin);
        };
        for (const Edit& edit : {Edit{SetStrength{40}}, Edit{SetTempo{{103}}}, Edit{SetGrid{{1, 8}}},
                                 Edit{SetThreshold{MicIndex{1}, {-40}}}}) {
            const auto [wanted, is] = place(*edited(session, edit));
            QCOMPARE(is, wanted);
        }
        const Session gone = *edited(session, Edit{Correct{{Correction::Kind::remove, 'A', at}}});
        const auto lost = outcome(gone);
        QCOMPARE(lost->lostPatches.size(), std::size_t{1});
        QVERIFY(lost->plan->patches.empty());
        QVERIFY(std::any_of(lost->warnings.begin(), lost->warnings.end(),
                            [](const Warning& warning) { return warning.kind == WarningKind::lostPatch; }));
    }
    /// One over a stretch begins and ends with the sound that it was laid over, however that is moved.
    void aStretchFollowsItsSound() {
        Patch patch = onHit(20, PatchKind::silence, {"tom_rack"});
        patch.ofHit = false;
        patch.before = {9000};
        patch.length = {96000};
        const Session session = with({patch});
        for (const double strength : {0.0, 50.0, 100.0}) {
            const auto plan = outcome(*edited(session, SetStrength{strength}))->plan;
            QCOMPARE(plan->patches.size(), std::size_t{1});
            const auto shiftOf = [&](SourceFrame at) {
                const auto segment =
                    std::find_if(plan->segments.begin(), plan->segments.end(), [&](const Segment& s) {
                        const ResultFrame sounds = s.placeOf(at);
                        return s.sounds.begin + s.fadeIn <= sounds && sounds < s.sounds.end;
                    });
                return segment == plan->segments.end() ? ResultFrame{} : segment->placeOf(at);
            };
            const SourceFrame begin = patch.at.at - patch.before;
            QVERIFY(abs(plan->patches.front().sounds.begin - shiftOf(begin)) <= FrameCount{480});
            QVERIFY(abs(plan->patches.front().sounds.end - shiftOf(begin + patch.length)) <= FrameCount{480});
        }
    }
    void theyAreKeptInProjectsAndReported() {
        Patch patch = onHit(8, PatchKind::replace, {"snare_top", "snare_bottom"});
        patch.from = TakePlace{'A', outcome(session_)->hits[4].found()};
        patch.gain = {-1.5};
        patch.shift = {-3};
        Patch silence = onHit(30, PatchKind::silence, {"tom_rack"});
        silence.ofHit = false;
        silence.on = false;
        const Session session = with({patch, silence});
        const auto file = folder_ / "patched.lampo";
        QVERIFY(saveProject(session, file).has_value());
        const auto opened = loadProject(file);
        QVERIFY(opened.has_value());
        QVERIFY(opened->patches == session.patches);
        const auto report = nlohmann::json::parse(reportText(session, analyses_, *outcome(session)));
        const auto& patches = report.at("patches");
        QCOMPARE(patches.size(), std::size_t{2});
        QCOMPARE(patches[0].at("kind").get<std::string>(), std::string("replace"));
        QCOMPARE(patches[0].at("at").get<std::int64_t>(),
                 outcome(session)->plan->patches.front().sounds.begin.frame);
        QCOMPARE(patches[0].at("from").at("at").get<std::int64_t>(), patch.from->at.frame);
        QCOMPARE(patches[0].at("gain_db").get<double>(), -1.5);
        QVERIFY(patches[1].at("at").is_null() && !patches[1].at("on").get<bool>());
    }
    void whatCannotBeIsRefused() {
        const auto refused = [&](const std::function<void(Patch&)>& spoil) {
            Patch patch = onHit(8, PatchKind::gain, {"snare_top"});
            spoil(patch);
            return !edited(session_, PatchEdit{AddPatches{{patch}}});
        };
        QVERIFY(!refused([](Patch&) {}));
        QVERIFY(refused([](Patch& patch) { patch.mics.clear(); }));
        QVERIFY(refused([](Patch& patch) { patch.mics = {"triangle"}; }));
        QVERIFY(refused([](Patch& patch) { patch.length = {0}; }));
        QVERIFY(refused([](Patch& patch) { patch.gain = {25}; }));
        QVERIFY(refused([](Patch& patch) { patch.fadeIn = {0}; }));
        QVERIFY(refused([](Patch& patch) { patch.at = {'Q', patch.at.at}; }));
        QVERIFY(refused([](Patch& patch) { patch.kind = PatchKind::replace; })); // from nowhere
        QVERIFY(refused([](Patch& patch) { patch.from = TakePlace{'A', {0}}; }));
        QVERIFY(!edited(session_, PatchEdit{DeletePatches{{0}}}));
        QVERIFY(!edited(session_, PatchEdit{AddPatches{}}));
    }
};

QTEST_APPLESS_MAIN(TestPatches)
#include "tst_patches.moc"
