#include "deliver/print_notes.h"

#include "audio/audio_reader.h"
#include "base/text.h"
#include "deliver/printed_files.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>
#include <limits>

namespace lampo {
namespace {

/// Seconds since midnight at the song's zero; none where no file says so, or the song begins before midnight.
std::optional<double> clockOf(const Session& session) {
    const Take& take = session.take();
    for (const SourceFile& source : take.files) {
        if (source.empty())
            continue;
        const auto info = probeAudio(source.file);
        if (!info || !info->timeReference)
            continue;
        const double begin = static_cast<double>(*info->timeReference) / info->rate.hz -
                             toSeconds(source.offset + take.start, session.rate).value;
        return begin >= 0 ? std::optional(begin) : std::nullopt;
    }
    return std::nullopt;
}

} // namespace

FileNotes printNotes(const Session& session, const PrintSettings& settings) {
    const SampleRate rate = settings.rate.value_or(session.rate);
    const auto frames = [&](double seconds) { return static_cast<std::int64_t>(std::llround(seconds * rate.hz)); };
    const Range<ResultFrame> range = printedRange(session, settings);
    FileNotes notes;
    if (settings.markers) {
        const MusicalMap map(session.map, session.rate);
        for (const Section& section : session.sections) {
            const ResultFrame begin = asResult(rangeOf(section, map).begin);
            const std::int64_t at = frames(toSeconds(begin - range.begin, session.rate).value);
            if (range.contains(begin) && !section.name.empty() && at <= std::numeric_limits<std::uint32_t>::max())
                notes.cues.push_back({at, section.name});
        }
        std::stable_sort(notes.cues.begin(), notes.cues.end(),
                         [](const CuePoint& a, const CuePoint& b) { return a.at < b.at; });
    }
    if (settings.format.container == Container::bwf) {
        const CalendarTime now = settings.at ? *settings.at : calendarNow();
        const int bits = integerBits(settings.format);
        notes.broadcast = Broadcast{
            session.title, "Lampo", now.date, now.time,
            frames(clockOf(session).value_or(0) + toSeconds(range.begin - ResultFrame{0}, session.rate).value),
            // EBU R 98: algorithm, sampling frequency, word length, and what it was done with.
            fmt::format("A=PCM,F={},W={},T=Lampo\r\n", rate.hz, bits == 0 ? 32 : bits)};
    }
    return notes;
}

} // namespace lampo
