#pragma once

#include "audio/sample_format.h"
#include "base/mic_set.h"
#include "base/position.h"
#include "base/protected_files.h"
#include "base/range.h"
#include "base/units.h"
#include "samples/sample_tracks.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// A text that goes with a print: its report.
struct PrintedText {
    std::filesystem::path file; ///< where it is written
    std::string text;           ///< all of it
};

/// What becomes of earlier files that have the names of a print's.
enum class Earlier {
    replace, ///< they are gone when the print is there
    number,  ///< the print's files get a number behind their names, the same for all
};
inline constexpr EnumNames<Earlier, Earlier::number> earlierNames{"replace", "number"};

/// A day and a time of day, as names of files and Broadcast Wave have them.
struct CalendarTime {
    std::string date; ///< yyyy-mm-dd
    std::string time; ///< hh:mm:ss
};
/// Local time.
CalendarTime calendarNow();

/// What is printed, and how.
struct PrintSettings {
    std::filesystem::path folder;              ///< made when it is missing
    SampleFormat format = SampleFormat::wav24; ///< of every printed file
    std::vector<PrintedText> texts{};          ///< anywhere
    ProtectedFiles protectedFiles{}; ///< besides the recording, what must not be written over: the project

    // What
    std::optional<Range<ResultFrame>> range{}; ///< none: the whole song
    MicSet mics = allMics;                     ///< each to a file of its own
    bool polyphonic = false;                   ///< or all of them to one file, a channel for each
    bool companions = false;                   ///< each to a file of its own, at the level it was recorded with
    bool click = false;                        ///< to a file of its own
    std::vector<SampleTrack> samples{};        ///< what samples play, each to a file of its own
    std::filesystem::path mix{};               ///< stereo, with the levels of playback; empty: none
    /// To be followed by the names of all files and their checksums; empty: no such text.
    std::optional<PrintedText> about{};

    // How
    std::optional<SampleRate> rate{};   ///< none: the session's
    std::optional<Dither> dither{};     ///< none: usualDither()
    std::string names = "{mic}";        ///< of the files in the folder: deliver/print_names.h
    std::string version{};              ///< for their names: what the edit is called
    std::optional<CalendarTime> at{};   ///< for their names and notes; none: now
    bool markers = false;               ///< sections as named places in WAV and AIFF
    Earlier earlier = Earlier::replace; ///< files that have these names
};

} // namespace lampo
