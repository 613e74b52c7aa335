#include "deliver/print.h"

#include "audio/audio_writer.h"
#include "base/parallel.h"
#include "render/renderer.h"

#include <algorithm>

namespace lampo {
namespace {

namespace fs = std::filesystem;

constexpr std::int64_t block = 1 << 14;

Expected<void> checkFolder(const Session& session, const fs::path& folder) {
    std::error_code code;
    fs::create_directories(folder, code);
    if (code || !fs::is_directory(folder))
        return fail(ErrorKind::unwritable, "The folder " + quotedName(folder) + " could not be made" +
                                               (code ? ": " + code.message() : "") + "; choose another one");
    const auto holdsSource = [&](const SourceFile& source) {
        std::error_code ignored;
        return !source.empty() && fs::equivalent(source.file.parent_path(), folder, ignored);
    };
    for (const Take& take : session.takes)
        if (std::any_of(take.files.begin(), take.files.end(), holdsSource))
            return fail(ErrorKind::unwritable,
                        "The folder " + quotedName(folder) +
                            " holds the recording itself, which is never written to; choose another one");
    return {};
}

Expected<std::vector<AudioWriter>> createFiles(const Session& session, const PrintSettings& settings) {
    std::vector<AudioWriter> writers;
    for (const Mic& mic : session.mics) {
        const fs::path file = settings.folder / (mic.stem + std::string(extension(settings.format)));
        auto writer = AudioWriter::create(file, settings.format, session.rate);
        if (!writer)
            return tl::unexpected(writer.error());
        writers.push_back(std::move(*writer));
    }
    return writers;
}

Expected<void> writeAll(const Session& session, Renderer& renderer, std::vector<AudioWriter>& writers,
                        const Progress& progress) {
    const std::int64_t length = session.length().frames;
    std::vector<std::vector<float>> buffers(session.mics.size(), std::vector<float>(block));
    for (std::int64_t at = 0; at < length; at += block) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Printing was stopped; nothing was written");
        const auto frames = static_cast<std::size_t>(std::min(block, length - at));
        auto written = renderer.prepare({at}, frames).and_then([&] {
            return tryEachIndex(writers.size(), [&](std::size_t mic) {
                const auto samples = std::span(buffers[mic]).first(frames);
                return renderer.renderMic(mic, {at}, samples).and_then([&] { return writers[mic].write(samples); });
            });
        });
        if (!written)
            return written;
        progress.at(static_cast<double>(at) / static_cast<double>(length));
    }
    return tryEachIndex(writers.size(), [&](std::size_t mic) { return writers[mic].close(); });
}

} // namespace

Expected<void> print(const Session& session, std::shared_ptr<const Plan> plan, const PrintSettings& settings,
                     const Progress& progress) {
    if (auto fit = checkFolder(session, settings.folder); !fit)
        return fit;
    auto writers = createFiles(session, settings);
    if (!writers)
        return tl::unexpected(writers.error());
    Renderer renderer(std::move(plan), std::make_shared<KitReader>(session));
    if (auto written = writeAll(session, renderer, *writers, progress); !written)
        return written;
    for (AudioWriter& writer : *writers)
        if (auto named = writer.commit(); !named)
            return named;
    progress.at(1.0);
    return {};
}

} // namespace lampo
