#include "deliver/click_file.h"

#include "audio/audio_writer.h"

#include <algorithm>

namespace lampo {

Expected<void> writeClick(const Session& session, const ClickSettings& settings, const std::filesystem::path& file,
                          SampleFormat format, const Progress& progress) {
    constexpr std::int64_t block = 65536;
    const auto isThat = [&](const SourceFile& source) {
        std::error_code ignored;
        return !source.empty() && std::filesystem::equivalent(source.file, file, ignored);
    };
    const bool overSource =
        std::any_of(session.takes.begin(), session.takes.end(),
                    [&](const Take& take) { return std::any_of(take.files.begin(), take.files.end(), isThat); }) ||
        std::any_of(session.companions.begin(), session.companions.end(),
                    [&](const Companion& companion) { return isThat(companion.file); });
    if (overSource)
        return fail(ErrorKind::unwritable, quotedName(file) +
                                               " is a part of the recording, which is never written to; "
                                               "choose another name");
    auto writer = AudioWriter::create(file, format, session.rate);
    if (!writer)
        return tl::unexpected(writer.error());
    const MusicalMap map(session.map, session.rate);
    const std::int64_t length = session.length().frames;
    std::vector<float> sound;
    for (std::int64_t at = 0; at < length; at += block) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Writing the click was stopped; nothing was written");
        sound.assign(static_cast<std::size_t>(std::min(block, length - at)), 0.0F);
        addClick(map, settings, {at}, sound);
        if (auto written = writer->write(sound); !written)
            return written;
        progress.at(static_cast<double>(at) / static_cast<double>(length));
    }
    return writer->close().and_then([&] { return writer->commit(); });
}

} // namespace lampo
