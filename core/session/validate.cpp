#include "session/validate.h"

#include "base/text.h"
#include "session/refusals.h"

#include <algorithm>
#include <fmt/core.h>
#include <set>

namespace lampo {
namespace {

/// The first fault found.
class Judge {
public:
    Expected<void> judge(const Session& session) {
        text(session.title, "The title");
        within(session.rate.hz, limits::lowestRate, limits::highestRate, "The sample rate", "Hz");
        judgeMics(session);
        for (const Take& take : session.takes)
            judgeTake(take);
        for (const Companion& companion : session.companions) {
            text(companion.name, "A companion's name");
            setting(companion.level.value, limits::level, "A companion's level");
            judgeFile(companion.file);
        }
        frames(session.map.origin.frame, "Bar 1");
        atMost(session.map.tempos.size(), limits::changes, "changes of tempo");
        atMost(session.map.meters.size(), limits::changes, "changes of meter");
        atMost(session.sections.size(), limits::changes, "sections");
        for (const Section& section : session.sections)
            judgeSection(section);
        judgeSettings(session);
        atMost(session.comp.passages.size(), limits::changes, "passages");
        atMost(session.form.size(), limits::changes, "parts");
        for (const std::size_t count : {session.shoves.size(), session.slips.size(), session.phrases.size()})
            atMost(count, limits::changes, "passages moved by hand");
        atMost(session.corrections.size(), limits::corrections, "corrections");
        judgeAnswers(session);
        judgePatches(session);
        judgeMidi(session.midi);
        judgeSamples(session);
        atMost(session.versions.size(), limits::versions, "versions");
        for (const Version& version : session.versions)
            text(version.name, "A version's name");
        return std::move(fault_);
    }

private:
    void judgeMics(const Session& session) {
        std::set<std::string_view> stems;
        for (const Mic& mic : session.mics) {
            if (!isFileName(mic.stem))
                fault(fmt::format("The mic \"{}\" has a name that is not that of a file", visible(mic.stem)));
            if (!stems.insert(mic.stem).second)
                fault(fmt::format("Two mics are called \"{}\"", visible(mic.stem)));
            setting(mic.threshold.value, limits::threshold, "A threshold");
            setting(mic.shortestGap.value, limits::shortestGap, "The shortest gap");
            setting(mic.level.value, limits::level, "A level");
            for (const double weight : mic.emphasis.value_or(BandWeights{1, 1, 1, 1}))
                setting(weight, limits::bandWeight, "A band's weight");
            text(mic.label, "A mic's name");
            text(mic.group, "A group's name");
        }
    }

    void judgeSection(const Section& section) {
        text(section.name, "A section's name");
        TimingSettings own;
        own.grid = section.grid.value_or(own.grid);
        own.strength = section.strength.value_or(own.strength);
        own.swing = section.swing.value_or(own.swing);
        own.pocket = section.pocket.value_or(own.pocket);
        own.reach = section.reach;
        own.feel = section.feel.value_or(own.feel);
        timing(own);
        finest(section.finest.value_or(Finest{}));
        setting(section.leadIn.value_or(Milliseconds{limits::leadIn.defaultValue}).value, limits::leadIn,
                "The lead-in");
        const Mic usual;
        for (const SectionDetection& detection : section.detection) {
            setting(detection.threshold.value_or(usual.threshold).value, limits::threshold, "A threshold");
            setting(detection.shortestGap.value_or(usual.shortestGap).value, limits::shortestGap,
                    "The shortest gap");
        }
    }

    void judgeSettings(const Session& session) {
        for (const TempoChange& change : session.map.tempos)
            setting(change.bpm.value, limits::tempo, "A tempo");
        timing(session.timing);
        finest(session.finest.value_or(Finest{}));
        setting(session.clusters.window.value, limits::oneHit, "The time within which strokes are one hit");
        setting(session.seams.leadIn.value, limits::leadIn, "The lead-in");
        setting(session.seams.fade.value, limits::fade, "A fade");
        setting(session.seams.mostStretch, limits::stretch, "The longest stretch");
        setting(session.seams.farShift.value, limits::farShift, "The farthest shift");
        for (const SeamByHand& seam : session.seamsByHand) {
            setting(seam.fade.value_or(session.seams.fade).value, limits::fade, "A fade");
            frames(seam.ahead.value_or(FrameCount{}).frames, "The place of a seam");
            frames(seam.between.before.frame, "The place of a seam");
            frames(seam.between.behind.frame, "The place of a seam");
        }
        for (const BorderFade& border : session.comp.fades)
            setting(border.fade.value, limits::borderFade, "A border's fade");
        for (const Phrase& phrase : session.phrases)
            setting(phrase.ease, limits::ease, "The easing of a phrase");
        const CompanionLines towards = session.companionLines.value_or(CompanionLines{});
        setting(towards.near.value, limits::companionNear, "How near a companion's attack is");
        setting(towards.threshold.value, limits::threshold, "A companion's threshold");
    }

    void judgeAnswers(const Session& session) {
        atMost(session.proofAnswers.size(), limits::changes, "answers to the proof");
        for (const ProofAnswer& answer : session.proofAnswers) {
            text(answer.note, "A note to the proof");
            if (answer.state == ProofState::open)
                fault("An answer to the proof says nothing");
        }
    }

    void judgeSamples(const Session& session) {
        atMost(session.samples.size(), limits::mics, "samples");
        std::set<std::string_view> names;
        for (const DrumSample& sample : session.samples) {
            if (!isFileName(sample.name))
                fault(fmt::format("The sample \"{}\" has a name that is not that of a file", visible(sample.name)));
            if (!names.insert(sample.name).second || session.micNamed(sample.name))
                fault(fmt::format("There is \"{}\" already: give the sample another name", visible(sample.name)));
            if (!session.micNamed(sample.mic))
                fault(fmt::format("The sample {} stands at a drum that is not there", visible(sample.name)));
            setting(sample.level.value, limits::level, "The level of a sample");
            time(sample.later, session.rate, limits::sampleLater, "The delay of a sample");
            atMost(sample.layers.size(), limits::mics, "layers of a sample");
            atMost(sample.said.size(), limits::corrections, "hits of a sample");
            for (const SampleLayer& layer : sample.layers) {
                setting(layer.upTo.value, limits::sampleLevel, "The level up to which a layer sounds");
                atMost(layer.files.size(), limits::changes, "files of a sample");
                if (layer.files.empty())
                    fault(fmt::format("A layer of the sample {} has no file", visible(sample.name)));
            }
            if (sample.layers.empty())
                fault(fmt::format("The sample {} has no file", visible(sample.name)));
            for (const SampleHit& hit : sample.said) {
                frames(hit.at.at.frame, "The place of a hit");
                setting(hit.level.value_or(Decibels{0}).value, limits::sampleLevel, "The level of a sample's hit");
            }
        }
        eachSampleFile(session.samples, [&](const DrumSample&, const SourceFile& file) { judgeFile(file); });
    }

    void judgeMidi(const MidiSettings& midi) {
        setting(midi.curve.strong, limits::strongVelocity, "The velocity of a strong hit");
        setting(midi.curve.bend, limits::velocityBend, "The bend of velocities");
        atMost(midi.keys.size(), limits::changes, "keys");
        for (const auto& [mic, key] : midi.keys) {
            text(mic, "A mic's name");
            setting(key, limits::midiKey, "A key");
        }
    }

    void judgePatches(const Session& session) {
        atMost(session.patches.size(), limits::changes, "patches");
        for (const Patch& patch : session.patches) {
            setting(patch.fadeIn.value, limits::patchFade, "The fade of a patch");
            setting(patch.fadeOut.value, limits::patchFade, "The fade of a patch");
            setting(patch.gain.value, limits::patchGain, "The gain of a patch");
            within(patch.length.frames, 1, limits::frames, "The length of a patch", "frames");
            for (const std::int64_t place : {patch.at.at.frame, patch.before.frames, patch.shift.frames,
                                             patch.from.value_or(patch.at).at.frame})
                frames(place, "The place of a patch");
            const auto hasTake = [&](const TakePlace& place) {
                return session.takeLettered(place.take).has_value();
            };
            const auto isThere = [&](const std::string& stem) { return session.micNamed(stem).has_value(); };
            if (patch.mics.empty() || patch.mics.size() > limits::mics ||
                !std::all_of(patch.mics.begin(), patch.mics.end(), isThere))
                fault("A patch lies on mics that are not there");
            if (!hasTake(patch.at) || (patch.from && !hasTake(*patch.from)) ||
                patch.bringsSound() != patch.from.has_value())
                fault("A patch has its sound from no take");
        }
    }

    void timing(const TimingSettings& timing) {
        grid(timing.grid);
        setting(timing.strength, limits::strength, "The strength");
        setting(timing.swing, limits::swing, "The swing");
        setting(timing.pocket.value, limits::pocket, "The pocket");
        const Reach reach = timing.reach.value_or(Reach{});
        setting(reach.value, reach.inSteps ? limits::reachInSteps : limits::reach, "The reach");
        setting(timing.feel.amount, limits::feelAmount, "The amount of a feel");
    }

    void finest(const Finest& finest) {
        grid(finest.value);
        setting(finest.near.value, limits::nearFinest, "Near a line");
    }

    /// Only what has a name can be written down.
    void grid(NoteValue value) {
        if (value.numerator < 1 || value.denominator < 1 || noteValueNamed(name(value)) != value)
            fault(fmt::format("A grid of {}/{} has no name", value.numerator, value.denominator));
    }

    void judgeTake(const Take& take) {
        text(take.note, "A note");
        frames(take.start.frames, "The start of a take");
        frames(take.length.frames, "The length of a take");
        for (const SourceFile& file : take.files)
            judgeFile(file);
    }

    void judgeFile(const SourceFile& file) {
        text(file.file.native(), "The path of a file");
        frames(file.offset.frames, "The start of " + quotedName(file.file));
        frames(file.length.frames, "The length of " + quotedName(file.file));
    }

    void text(const std::string& value, const char* what) {
        if (value.size() > limits::text)
            fault(fmt::format("{} is longer than {} bytes", what, limits::text));
        if (value.find('\0') != std::string::npos)
            fault(std::string(what) + " holds a character that is none");
    }
    void setting(double value, const limits::Setting& setting, const char* what) {
        if (fault_)
            fault_ = inRange(value, setting, what);
    }
    /// What is typed in ms and kept in whole frames: a limit is the frame that is nearest to it.
    void time(FrameCount value, SampleRate rate, const limits::Setting& limit, const char* what) {
        if (value < toFrames(Milliseconds{limit.low}, rate) || value > toFrames(Milliseconds{limit.high}, rate))
            setting(toMilliseconds(value, rate).value, limit, what);
    }
    void frames(std::int64_t value, const std::string& what) {
        within(value, -limits::frames, limits::frames, what, "frames");
    }
    void within(std::int64_t value, std::int64_t low, std::int64_t high, const std::string& what,
                const char* unit) {
        if (value < low || value > high)
            fault(fmt::format("{} is {}{}{}; it can be from {} to {}", what, value, ' ', unit, low, high));
    }
    void atMost(std::size_t count, std::size_t most, const char* what) {
        if (count > most)
            fault(fmt::format("There are {}{}{}; there can be {}", count, ' ', what, most));
    }
    void fault(std::string sentence) {
        if (fault_)
            fault_ = fail(ErrorKind::badValue, std::move(sentence));
    }

    Expected<void> fault_;
};

} // namespace

Expected<void> validate(const Session& session) {
    return Judge().judge(session);
}

} // namespace lampo
