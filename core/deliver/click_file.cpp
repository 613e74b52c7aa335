#include "deliver/click_file.h"

#include "audio/audio_writer.h"
#include "session/recording_files.h"

#include <algorithm>

namespace lampo {

Expected<void> writeClick(const Session& session, const ClickSettings& settings, const std::filesystem::path& file,
                          SampleFormat format, const Progress& progress) {
    constexpr std::int64_t block = 65536;
    if (auto allowed = recordingFiles(session).mayWrite(file); !allowed)
        return allowed;
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
        addClick(map, settings, ResultFrame{at}, sound);
        if (auto written = writer->write(sound); !written)
            return written;
        progress.at(static_cast<double>(at) / static_cast<double>(length));
    }
    return writer->close().and_then([&] { return writer->commit(); });
}

} // namespace lampo
