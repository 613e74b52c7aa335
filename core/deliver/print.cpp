#include "deliver/print.h"

#include "audio/audio_writer.h"
#include "base/file_set.h"
#include "base/parallel.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "render/renderer.h"
#include "session/recording_files.h"
#include "session/validate.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

namespace fs = std::filesystem;

constexpr std::int64_t block = 1 << 14;

Expected<void> checkFolder(const Session& session, const fs::path& folder) {
    const auto holdsSource = [&](const SourceFile& source) {
        std::error_code ignored;
        return !source.empty() && fs::equivalent(source.file.parent_path(), folder, ignored);
    };
    for (const Take& take : session.takes)
        if (std::any_of(take.files.begin(), take.files.end(), holdsSource))
            return fail(
                ErrorKind::unwritable,
                fmt::format(
                    "The folder {} holds the recording itself, which is never written to; choose another one",
                    quotedName(folder)));
    return {};
}

fs::path fileOf(const Mic& mic, const PrintSettings& settings) {
    return settings.folder / (mic.stem + std::string(extension(settings.format)));
}

/// Every file of the print may be written, and none of them twice.
Expected<void> checkFiles(const Session& session, const PrintSettings& settings) {
    ProtectedFiles printed;
    const ProtectedFiles recording = recordingFiles(session);
    const auto check = [&](const fs::path& file) -> Expected<void> {
        return recording.mayWrite(file)
            .and_then([&] { return settings.protectedFiles.mayWrite(file); })
            .and_then([&] { return printed.mayWrite(file); })
            .map([&] { printed.add(file, "another file of this print"); });
    };
    for (const Mic& mic : session.mics) {
        if (!isFileName(mic.stem))
            return fail(
                ErrorKind::badValue,
                fmt::format("The mic \"{}\" cannot be printed: its name is not that of a file", visible(mic.stem)));
        if (auto checked = check(fileOf(mic, settings)); !checked)
            return checked;
    }
    for (const PrintedText& text : settings.texts)
        if (auto checked = check(text.file); !checked)
            return checked;
    return {};
}

Expected<std::vector<AudioWriter>> createFiles(const Session& session, const PrintSettings& settings) {
    std::vector<AudioWriter> writers;
    for (const Mic& mic : session.mics) {
        auto writer = AudioWriter::create(fileOf(mic, settings), settings.format, session.rate);
        if (!writer)
            return tl::unexpected(writer.error());
        writers.push_back(std::move(*writer));
    }
    return writers;
}

/// Renders a stretch of every mic, several at once, into buffers of at least its length, and writes it.
Expected<void> writeBlock(Renderer& renderer, ResultFrame at, std::size_t frames,
                          std::span<std::vector<float>> buffers, std::vector<AudioWriter>& writers) {
    if (auto prepared = renderer.prepare(at, frames); !prepared)
        return prepared;
    return tryEachIndex(writers.size(), [&](std::size_t mic) {
        const auto samples = std::span(buffers[mic]).first(frames);
        return renderer.renderMic({mic}, at, samples).and_then([&] { return writers[mic].write(samples); });
    });
}

Expected<void> writeAll(const Session& session, Renderer& renderer, std::vector<AudioWriter>& writers,
                        const Progress& progress) {
    const std::int64_t length = session.length().frames;
    std::vector<std::vector<float>> buffers(session.mics.size(), std::vector<float>(block));
    for (std::int64_t at = 0; at < length; at += block) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Printing was stopped; nothing was written");
        const auto frames = static_cast<std::size_t>(std::min(block, length - at));
        if (auto written = writeBlock(renderer, {at}, frames, buffers, writers); !written)
            return written;
        progress.at(static_cast<double>(at) / static_cast<double>(length));
    }
    // Closing waits for the disk.
    return tryEachIndex(
        writers.size(), [&](std::size_t mic) { return writers[mic].close(); }, ioThreads);
}

Expected<void> addText(FileSet& set, const PrintedText& text) {
    auto file = ProvisionalFile::beside(text.file);
    if (!file)
        return tl::unexpected(file.error());
    return file->write(text.text).and_then([&] { return file->sync(); }).map([&] { set.add(std::move(*file)); });
}

} // namespace

Expected<void> print(const Session& session, std::shared_ptr<const Plan> plan, const PrintSettings& settings,
                     const Progress& progress) {
    if (auto fit = checkFolder(session, settings.folder); !fit)
        return fit;
    if (auto fit = checkFiles(session, settings); !fit)
        return fit;
    auto set = FileSet::in(settings.folder);
    if (!set)
        return tl::unexpected(set.error());
    for (const PrintedText& text : settings.texts)
        if (auto added = addText(*set, text); !added)
            return added;
    auto writers = createFiles(session, settings);
    if (!writers)
        return tl::unexpected(writers.error());
    Renderer renderer(std::move(plan), std::make_shared<KitReader>(session));
    if (auto written = writeAll(session, renderer, *writers, progress); !written)
        return written;
    for (AudioWriter& writer : *writers)
        set->add(std::move(writer).take());
    auto named = set->commit();
    progress.at(1.0);
    return named;
}

Expected<void> writeText(const Session& session, const PrintedText& text, const ProtectedFiles& others) {
    return recordingFiles(session)
        .mayWrite(text.file)
        .and_then([&] { return others.mayWrite(text.file); })
        .and_then([&] { return writeAtomically(text.file, text.text); });
}

} // namespace lampo
