#include "deliver/print.h"

#include "audio/audio_writer.h"
#include "audio/checksums.h"
#include "audio/rate_stream.h"
#include "base/file_set.h"
#include "base/parallel.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "deliver/print_notes.h"
#include "mix/mixer.h"
#include "render/click.h"
#include "session/recording_files.h"
#include "session/validate.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

namespace fs = std::filesystem;

constexpr std::int64_t block = 1 << 14;

/// One file while it is written: its sound, brought to the print's rate.
class Track {
public:
    static Expected<Track> create(const Session& session, const std::shared_ptr<const Plan>& plan,
                                  const std::vector<SampleTrack>& samples, PrintedFile file, const SoundFile& sound,
                                  SampleRate to) {
        Track track(session, std::move(file), {sound.rate, to, sound.channels});
        if (track.file_.holds == Holds::companion) {
            auto companion = CompanionSound::open(session, session.companions[track.file_.which]);
            if (!companion)
                return tl::unexpected(companion.error());
            track.companion_.emplace(std::move(*companion));
        }
        if (track.file_.holds == Holds::sample)
            track.notes_.emplace(samples[track.file_.which].notes);
        if (track.file_.holds == Holds::mix)
            track.mixer_ = std::make_unique<Mixer>(mixOf(session, plan, samples));
        SoundFile written = sound;
        written.rate = to;
        written.frames = track.stream_.converted(sound.frames);
        auto writer = AudioWriter::create(track.file_.file, written);
        if (!writer)
            return tl::unexpected(writer.error());
        track.writer_.emplace(std::move(*writer));
        return track;
    }

    /// The next stretch; `renderer` has prepared it.
    Expected<void> write(Renderer& renderer, ResultFrame at, std::size_t frames) {
        sound_.assign(frames * static_cast<std::size_t>(file_.channels()), 0.0F);
        return fill(renderer, at, frames).and_then([&] { return stream_.next(sound_); }).and_then([&](auto ready) {
            return writer_->write(ready);
        });
    }
    Expected<void> close() {
        return stream_.rest().and_then([&](auto ready) { return writer_->write(ready); }).and_then([&] {
            return writer_->close();
        });
    }
    const AudioWriter& writer() const { return *writer_; }
    ProvisionalFile take() && { return std::move(*writer_).take(); }

private:
    using Holds = PrintedFile::Holds;

    Track(const Session& session, PrintedFile file, RateStream stream)
        : session_(&session), file_(std::move(file)), stream_(std::move(stream)) {}

    static std::shared_ptr<const Programme> mixOf(const Session& session, const std::shared_ptr<const Plan>& plan,
                                                  const std::vector<SampleTrack>& samples) {
        auto programme = std::make_shared<Programme>(Programme{session, plan});
        programme->notes = allNotes(samples);
        return programme;
    }

    Expected<void> fill(Renderer& renderer, ResultFrame at, std::size_t frames) {
        switch (file_.holds) {
        case Holds::mics:
            return fillMics(renderer, at, frames);
        case Holds::companion:
            return companion_->add(at, sound_);
        case Holds::click:
            addClick(MusicalMap(session_->map, session_->rate), {}, at, sound_);
            return {};
        case Holds::sample:
            notes_->add(at, sound_);
            return {};
        case Holds::mix:
            mixer_->mix(at, sound_);
            if (!mixer_->trouble().empty())
                return fail(ErrorKind::unreadable, mixer_->trouble());
            return {};
        }
        return {};
    }
    Expected<void> fillMics(Renderer& renderer, ResultFrame at, std::size_t frames) {
        if (file_.mics.size() == 1)
            return renderer.renderMic(file_.mics.front(), at, sound_);
        const std::size_t channels = file_.mics.size();
        return tryEachIndex(channels, [&](std::size_t channel) {
            std::vector<float> mic(frames);
            return renderer.renderMic(file_.mics[channel], at, mic).map([&] {
                for (std::size_t i = 0; i < frames; ++i)
                    sound_[i * channels + channel] = mic[i];
            });
        });
    }

    const Session* session_;
    PrintedFile file_;
    RateStream stream_;
    std::optional<CompanionSound> companion_;
    std::optional<NotePlayer> notes_;
    std::unique_ptr<Mixer> mixer_;
    std::optional<AudioWriter> writer_;
    std::vector<float> sound_; ///< interleaved
};

Expected<std::vector<Track>> createTracks(const Session& session, const std::shared_ptr<const Plan>& plan,
                                          const PrintSettings& settings, const std::vector<PrintedFile>& files) {
    const FileNotes notes = printNotes(session, settings);
    std::vector<Track> tracks;
    for (const PrintedFile& file : files) {
        const SampleFormat format = formatOf(file, settings);
        SoundFile sound{format,
                        session.rate,
                        file.channels(),
                        printedRange(session, settings).length().frames,
                        settings.dither.value_or(usualDither(format)),
                        tracks.size() << 40U, // more than any file's samples apart
                        notes};
        auto track =
            Track::create(session, plan, settings.samples, file, sound, settings.rate.value_or(session.rate));
        if (!track)
            return tl::unexpected(track.error());
        tracks.push_back(std::move(*track));
    }
    return tracks;
}

/// FLAC makes of drums about half; what is less than a quarter of it is surely not enough.
Expected<void> checkRoom(const Session& session, const PrintSettings& settings,
                         const std::vector<PrintedFile>& files) {
    const double rate = settings.rate.value_or(session.rate).hz;
    double bytes = 0;
    for (const PrintedFile& file : files)
        bytes += static_cast<double>(bytesOf(
            {settings.format, session.rate, file.channels(), printedRange(session, settings).length().frames}));
    bytes *= rate / session.rate.hz * (settings.format.container == Container::flac ? 0.25 : 1);
    std::error_code unknown;
    const fs::space_info room = fs::space(settings.folder, unknown);
    if (unknown || bytes <= static_cast<double>(room.available))
        return {};
    return fail(ErrorKind::diskFull,
                fmt::format("The print takes {} MB, and there are {} MB free in {}: choose another folder",
                            trimmedNumber(bytes / 1e6, 0),
                            trimmedNumber(static_cast<double>(room.available) / 1e6, 0),
                            quotedName(settings.folder)));
}

Expected<void> writeAll(const Session& session, const PrintSettings& settings, Renderer& renderer,
                        std::vector<Track>& tracks, const Progress& progress) {
    const Range<ResultFrame> range = printedRange(session, settings);
    const std::int64_t length = range.length().frames;
    for (std::int64_t at = 0; at < length; at += block) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Printing was stopped; nothing was written");
        const auto frames = static_cast<std::size_t>(std::min(block, length - at));
        const ResultFrame place = range.begin + FrameCount{at};
        auto written = renderer.prepare(place, frames).and_then([&] {
            return tryEachIndex(tracks.size(),
                                [&](std::size_t track) { return tracks[track].write(renderer, place, frames); });
        });
        if (!written)
            return written;
        progress.at(static_cast<double>(at) / static_cast<double>(length));
    }
    // Closing waits for the disk.
    return tryEachIndex(
        tracks.size(), [&](std::size_t track) { return tracks[track].close(); }, ioThreads);
}

Expected<void> addText(FileSet& set, const PrintedText& text) {
    auto file = ProvisionalFile::beside(text.file);
    if (!file)
        return tl::unexpected(file.error());
    return file->write(text.text).and_then([&] { return file->sync(); }).map([&] { set.add(std::move(*file)); });
}

/// What was done, and what each file is to be told by.
Expected<void> addAbout(FileSet& set, PrintedText about, const std::vector<Track>& tracks) {
    std::vector<SummedFile> files;
    for (const Track& track : tracks)
        files.push_back({track.writer().path(), fs::absolute(track.writer().wanted())
                                                    .lexically_relative(fs::absolute(about.file).parent_path())
                                                    .generic_string()});
    return checksumList(files).and_then([&](const std::string& sums) {
        about.text += "\n" + sums;
        return addText(set, about);
    });
}

} // namespace

Expected<PrintList> print(const Session& session, std::shared_ptr<const Plan> plan, const PrintSettings& settings,
                          const Progress& progress) {
    auto list = printedFiles(session, settings);
    if (!list)
        return list;
    auto set = FileSet::in(settings.folder);
    if (!set)
        return tl::unexpected(set.error());
    if (auto room = checkRoom(session, settings, list->sounds); !room)
        return tl::unexpected(room.error());
    for (const PrintedText& text : settings.texts)
        if (auto added = addText(*set, text); !added)
            return tl::unexpected(added.error());
    auto tracks = createTracks(session, plan, settings, list->sounds);
    if (!tracks)
        return tl::unexpected(tracks.error());
    Renderer renderer(std::move(plan), std::make_shared<KitReader>(session));
    if (auto written = writeAll(session, settings, renderer, *tracks, progress); !written)
        return tl::unexpected(written.error());
    if (settings.about)
        if (auto added = addAbout(*set, {list->about, settings.about->text}, *tracks); !added)
            return tl::unexpected(added.error());
    for (Track& track : *tracks)
        set->add(std::move(track).take());
    auto named = set->commit();
    progress.at(1.0);
    return named.map([&] { return std::move(*list); });
}

Expected<void> writeText(const Session& session, const PrintedText& text, const ProtectedFiles& others) {
    return recordingFiles(session)
        .mayWrite(text.file)
        .and_then([&] { return others.mayWrite(text.file); })
        .and_then([&] { return writeAtomically(text.file, text.text); });
}

} // namespace lampo
