#pragma once

#include "deliver/print.h"
#include "edits/edit.h"
#include "import/folder_import.h"
#include "pipeline/searched_seams.h"
#include "support/built_kit.h"
#include "support/temp_folder.h"

#include <QtTest>

#include <cmath>
#include <map>

namespace lampo::test {

using Sounds = std::map<std::string, std::vector<float>>; ///< by mic

/// Source frames that a printed tracer came from; −1 where it is no whole one.
inline std::vector<std::int64_t> traced(const std::vector<float>& tracer) {
    std::vector<std::int64_t> places;
    for (const float frame : tracer) {
        const double place = std::ldexp(frame, 24);
        places.push_back(place == std::floor(place) ? static_cast<std::int64_t>(place) : -1);
    }
    return places;
}

/// A built take with tracers, and what is printed of it.
class PatchRig : public QObject {
protected:
    TempFolder folder_;
    Session session_;
    Analyses analyses_;
    std::vector<std::string> stems_{"kick_in", "snare_top", "snare_bottom", "tom_rack", "overhead_left"};
    std::vector<std::string> snare_{"snare_top", "snare_bottom"};

    /// Take A of the demo's score, and others beside it.
    void build(const std::string& takes, double seconds) {
        for (const char letter : takes) {
            const BuiltTake take =
                buildTake(folder_ / "song" / std::string(1, letter), letter, seconds, stems_, SampleFormat::wav24);
            addTracers(folder_ / "song" / std::string(1, letter), take.length);
        }
        auto session = importFolder(takes.size() == 1 ? folder_ / "song" / takes : folder_ / "song");
        QVERIFY(session.has_value());
        session_ = *edited(*session, SetTempo{{104}});
        QVERIFY(analyseMissing(session_, analyses_, Listen::toEveryMic, {}).has_value());
        QVERIFY(outcome(session_)->hits.size() > 60);
    }
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
    Sounds sources(TakeIndex take = {0}) {
        Sounds sounds;
        for (MicIndex mic; mic < session_.mics.size(); ++mic)
            sounds[session_.mics[mic].stem] = readAudio(session_.takes[take].files[mic].file);
        return sounds;
    }
    /// Outside patches every mic is, bit for bit, what it is without them; inside, but for their fades, position
    /// and gain are what the patches say, one on top of the other. All sound from the first take.
    void checkPatched(const Plan& plan, const Sounds& before, const Sounds& after) {
        const Sounds source = sources();
        for (MicIndex mic; mic < session_.mics.size(); ++mic) {
            const std::string& stem = session_.mics[mic].stem;
            const auto& was = before.at(stem);
            const auto& is = after.at(stem);
            QCOMPARE(is.size(), was.size());
            std::vector<float> wanted = was;
            std::vector<bool> fading(was.size()), patched(was.size());
            for (const PlannedPatch& patch : plan.patches)
                for (ResultFrame at = patch.sounds.begin; at < patch.sounds.end && (patch.mics & onlyMic(mic));
                     at = at + FrameCount{1}) {
                    if (at.frame < 0 || at.frame >= static_cast<std::int64_t>(was.size()))
                        continue;
                    const auto i = static_cast<std::size_t>(at.frame);
                    patched[i] = true;
                    const bool whole =
                        at >= patch.sounds.begin + patch.fadeIn && at < patch.sounds.end - patch.fadeOut;
                    fading[i] = !whole || (fading[i] && !patch.from); // what sounds instead hides what is below
                    if (patch.from) {
                        const std::int64_t from = (at - patch.from->shift).frame;
                        const bool there = from >= 0 && from < static_cast<std::int64_t>(source.at(stem).size());
                        wanted[i] = there ? source.at(stem)[static_cast<std::size_t>(from)] : 0.0F;
                    }
                    wanted[i] *= patch.gain;
                }
            for (std::size_t i = 0; i < was.size(); ++i) {
                const float most = patched[i] ? 1e-6F * std::max(1.0F, std::abs(wanted[i])) : 0.0F;
                if (!fading[i] && std::abs(is[i] - wanted[i]) > most)
                    QFAIL(qPrintable(QStringLiteral("%1 %2: %3 for %4")
                                         .arg(QString::fromStdString(stem))
                                         .arg(i)
                                         .arg(is[i])
                                         .arg(wanted[i])));
            }
        }
    }
    /// At the ends of patches the steepest step from frame to frame, against the steepest around in what is heard
    /// there, as loud as the patch makes it, and in what comes from elsewhere: the measure of seams. Ends on top of
    /// another patch are left out: what is below them is printed nowhere.
    double steepestStep(const Plan& plan, const Sounds& before, const Sounds& after) {
        const Sounds source = sources();
        const auto steepest = [](const std::vector<float>& sound, std::int64_t from, std::int64_t to) {
            float step = 0;
            for (auto i = static_cast<std::size_t>(std::max<std::int64_t>(1, from));
                 static_cast<std::int64_t>(i) < to && i < sound.size(); ++i)
                step = std::max(step, std::abs(sound[i] - sound[i - 1]));
            return step;
        };
        const std::int64_t margin = toFrames(Milliseconds{50}, session_.rate).frames;
        double worst = 0;
        for (const PlannedPatch& patch : plan.patches)
            for (MicIndex mic; mic < session_.mics.size(); ++mic) {
                const std::string& stem = session_.mics[mic].stem;
                if (!(patch.mics & onlyMic(mic)) || stem.starts_with("tracer"))
                    continue;
                for (const Range<ResultFrame> fade :
                     {Range<ResultFrame>{patch.sounds.begin, patch.sounds.begin + patch.fadeIn},
                      Range<ResultFrame>{patch.sounds.end - patch.fadeOut, patch.sounds.end}}) {
                    if (std::any_of(plan.patches.begin(), plan.patches.end(), [&](const PlannedPatch& other) {
                            return &other != &patch && (other.mics & onlyMic(mic)) &&
                                   !other.sounds.intersected(fade).empty();
                        }))
                        continue;
                    const std::int64_t from = fade.begin.frame, to = fade.end.frame;
                    float around = steepest(before.at(stem), from - margin, to + margin);
                    if (!patch.from) {
                        around *= std::max(1.0F, static_cast<float>(patch.gain));
                    } else {
                        const std::int64_t shift = patch.from->shift.by.frames;
                        around = std::max(around, patch.gain * steepest(source.at(stem), from - shift - margin,
                                                                        to - shift + margin));
                    }
                    worst = std::max<double>(worst,
                                             steepest(after.at(stem), from - 2, to + 2) / std::max(around, 1e-4F));
                }
            }
        return worst;
    }
    /// Mics that are patched; the tracer among them tells where their sound came from.
    const std::vector<std::string> some_{"snare_top", "tracer_up"};
    void othersAreUntouched(const Sounds& before, const Sounds& after) {
        for (const auto& [stem, sound] : before)
            if (std::find(some_.begin(), some_.end(), stem) == some_.end())
                QVERIFY2(after.at(stem) == sound, stem.c_str());
    }
    Session with(const AddPatches& edit) { return *edited(session_, PatchEdit{edit}); }
    Session with(const std::vector<Patch>& patches) { return with(AddPatches{patches}); }
    /// The hits of one drum.
    std::vector<HitIndex> hitsOf(Voice voice) {
        std::vector<HitIndex> all;
        const auto is = outcome(session_);
        for (HitIndex hit; hit < is->hits.size(); ++hit)
            if (is->hits[hit].voice == voice && is->hits[hit].mic)
                all.push_back(hit);
        return all;
    }
};

} // namespace lampo::test
