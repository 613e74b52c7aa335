#include "samples/sample_tracks.h"

#include "audio/audio_reader.h"
#include "base/parallel.h"
#include "render/kit_reader.h"
#include "samples/fit.h"
#include "samples/sample_strokes.h"

#include <algorithm>
#include <fmt/core.h>
#include <functional>
#include <map>

namespace lampo {
namespace {

constexpr Milliseconds nudge{1};         ///< within which nothing fits better
constexpr std::int64_t farthest = 6;     ///< times that, a file may be moved from its offset
constexpr Milliseconds aroundAttack{12}; ///< of the real sound before its mark
constexpr Milliseconds heardFor{40};     ///< and behind it
constexpr Milliseconds widest{8};        ///< that a file's own attack may lie beside the mark when it is fitted
constexpr std::size_t strokesToFit = 24; ///< the loudest of a drum
constexpr std::int64_t longestShot = 30; ///< seconds; no drum rings longer, and a song was chosen by mistake

using Sound = std::shared_ptr<const std::vector<float>>;

Expected<Sound> soundOf(const SourceFile& file, SampleRate rate) {
    return AudioReader::open(SourceFile(file.file, file.channel), rate)
        .and_then([&](AudioReader reader) -> Expected<Sound> {
            if (reader.info().length.frames > longestShot * rate.hz)
                return fail(ErrorKind::badValue,
                            fmt::format("{} is too long for a recording of one stroke: at most {} s",
                                        quotedName(file.file), longestShot));
            std::vector<float> samples(static_cast<std::size_t>(reader.info().length.frames));
            return reader.read(SourceFrame{0}, samples).map([&] {
                return std::make_shared<const std::vector<float>>(std::move(samples));
            });
        });
}

/// A stroke as its mic heard it: from aroundAttack before its mark.
Expected<std::vector<float>> realSound(KitReader& kit, MicIndex mic, const SampleStroke& stroke) {
    const std::int64_t before = toFrames(aroundAttack, kit.rate()).frames;
    const auto count = static_cast<std::size_t>(before + toFrames(heardFor, kit.rate()).frames);
    return kit.frames(stroke.take, mic, stroke.at - FrameCount{before}, count)
        .map([](std::span<const float> frames) { return std::vector<float>(frames.begin(), frames.end()); });
}

class TrackMaker {
public:
    TrackMaker(const Session& session, const Outcome& outcome, const DrumSample& sample)
        : session_(session), outcome_(outcome), sample_(sample), mic_(*session.micNamed(sample.mic)),
          kit_(session) {}

    Expected<SampleTrack> track(const Progress& progress) {
        NoteSounds notes;
        for (const SampleStroke& stroke : sampleStrokes(session_, outcome_, sample_)) {
            if (progress.cancelled())
                return fail(ErrorKind::cancelled, "Lining up the samples was stopped");
            auto note = noteOf(stroke);
            if (!note)
                return tl::unexpected(note.error());
            if (*note)
                notes.push_back(std::move(**note));
        }
        std::stable_sort(notes.begin(), notes.end(),
                         [](const NoteSound& a, const NoteSound& b) { return a.at < b.at; });
        return SampleTrack{sample_.name, std::make_shared<const NoteSounds>(std::move(notes))};
    }

private:
    Expected<std::optional<NoteSound>> noteOf(const SampleStroke& stroke) {
        if (stroke.out)
            return std::optional<NoteSound>();
        auto layer = std::find_if(sample_.layers.begin(), sample_.layers.end(),
                                  [&](const SampleLayer& each) { return stroke.level <= each.upTo; });
        if (layer == sample_.layers.end())
            --layer;
        const auto which = static_cast<std::size_t>(layer - sample_.layers.begin());
        const SourceFile& file = layer->files[turns_[which]++ % layer->files.size()];
        auto sound = keptSound(file);
        if (!sound)
            return tl::unexpected(sound.error());
        auto lined = linedUp(stroke, file, (*sound)->shot);
        if (!lined)
            return tl::unexpected(lined.error());
        const double gain = toGain({sample_.level.value + stroke.level.value - layer->upTo.value});
        return std::optional(NoteSound{stroke.lands + *lined + sample_.later,
                                       static_cast<float>(sample_.inverted ? -gain : gain), (*sound)->sound});
    }

    /// A file that was read.
    struct Kept {
        Sound sound;
        OneShot shot;
    };
    Expected<const Kept*> keptSound(const SourceFile& file) {
        if (const auto known = sounds_.find(file); known != sounds_.end())
            return &known->second;
        return soundOf(file, session_.rate).map([&](Sound sound) -> const Kept* {
            OneShot shot = oneShotOf(*sound, session_.rate);
            return &(sounds_[file] = {std::move(sound), std::move(shot)});
        });
    }

    /// Where the file begins against the stroke's mark: where nothing within 1 ms fits better.
    Expected<FrameCount> linedUp(const SampleStroke& stroke, const SourceFile& file, const OneShot& sound) {
        auto real = realSound(kit_, mic_, stroke);
        if (!real)
            return tl::unexpected(real.error());
        const std::int64_t before = toFrames(aroundAttack, session_.rate).frames;
        const std::int64_t usual = before + file.offset.frames, reach = toFrames(nudge, session_.rate).frames;
        const auto fit = nearestFit(sound, *real, usual, reach, farthest * reach, sample_.inverted, session_.rate);
        if (fit)
            return FrameCount{fit->at - before};
        return file.offset;
    }

    const Session& session_;
    const Outcome& outcome_;
    const DrumSample& sample_;
    MicIndex mic_;
    KitReader kit_;
    std::map<SourceFile, Kept> sounds_;
    std::map<std::size_t, std::size_t> turns_; ///< by layer: how often it sounded
};

/// The sum of the loudest strokes of a sample's drum, each as realSound() has it; empty where it is not struck.
Expected<std::vector<float>> loudestStrokes(const Session& session, const Outcome& outcome,
                                            const DrumSample& sample) {
    std::vector<float> sum;
    const auto mic = session.micNamed(sample.mic);
    auto strokes = sampleStrokes(session, outcome, sample);
    if (!mic || strokes.empty())
        return sum;
    std::stable_sort(strokes.begin(), strokes.end(),
                     [](const SampleStroke& a, const SampleStroke& b) { return a.played > b.played; });
    strokes.resize(std::min(strokes.size(), strokesToFit));
    KitReader kit(session);
    for (const SampleStroke& stroke : strokes) {
        auto real = realSound(kit, *mic, stroke);
        if (!real)
            return tl::unexpected(real.error());
        sum.resize(real->size());
        std::transform(sum.begin(), sum.end(), real->begin(), sum.begin(), std::plus<>());
    }
    return sum;
}

/// Where a recording fits strokes as realSound() has them, in frames from their mark; `polarity`: one that is
/// settled.
std::optional<Fit> fitTo(std::span<const float> real, std::span<const float> recording,
                         std::optional<bool> polarity, SampleRate rate) {
    const std::int64_t before = toFrames(aroundAttack, rate).frames, reach = toFrames(widest, rate).frames;
    const OneShot shot = oneShotOf(recording, rate);
    const std::int64_t usual = before - shot.attack;
    auto fit = fitOf(shot, real, usual - reach, usual + reach, polarity, rate);
    if (fit)
        fit->at -= before;
    return fit;
}

} // namespace

std::shared_ptr<const NoteSounds> allNotes(const std::vector<SampleTrack>& tracks) {
    if (tracks.empty())
        return nullptr;
    NoteSounds all;
    for (const SampleTrack& track : tracks)
        all.insert(all.end(), track.notes->begin(), track.notes->end());
    std::stable_sort(all.begin(), all.end(), [](const NoteSound& a, const NoteSound& b) { return a.at < b.at; });
    return std::make_shared<const NoteSounds>(std::move(all));
}

Expected<std::vector<SampleTrack>> sampleTracks(const Session& session, const Outcome& outcome,
                                                const Progress& progress) {
    std::vector<const DrumSample*> on;
    for (const DrumSample& sample : session.samples)
        if (sample.on)
            on.push_back(&sample);
    std::vector<SampleTrack> tracks(on.size());
    return tryEachIndex(on.size(),
                        [&](std::size_t i) {
                            return TrackMaker(session, outcome, *on[i]).track(progress).map([&](SampleTrack track) {
                                tracks[i] = std::move(track);
                            });
                        })
        .map([&] { return std::move(tracks); });
}

Expected<DrumSample> fitted(const Session& session, const Outcome& outcome, DrumSample sample) {
    const auto real = loudestStrokes(session, outcome, sample);
    if (!real)
        return tl::unexpected(real.error());
    if (real->empty())
        return sample;
    std::optional<bool> polarity;
    for (auto layer = sample.layers.rbegin(); layer != sample.layers.rend(); ++layer) // the loudest says which
        for (SourceFile& file : layer->files) {
            const auto sound = soundOf(file, session.rate);
            if (!sound)
                return tl::unexpected(sound.error());
            const auto fit = fitTo(*real, **sound, polarity, session.rate);
            if (!fit)
                continue;
            file.offset = FrameCount{fit->at};
            polarity = fit->inverted;
        }
    sample.inverted = polarity.value_or(sample.inverted);
    return sample;
}

} // namespace lampo
