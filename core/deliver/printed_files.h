#pragma once

#include "deliver/print_settings.h"
#include "session/session.h"

namespace lampo {

/// One file of sound that a print writes.
struct PrintedFile {
    /// What sounds in a file.
    enum class Holds { mics, companion, click, sample, mix };
    Holds holds = Holds::mics;    ///< that
    std::vector<MicIndex> mics{}; ///< a channel for each
    std::size_t which = 0;        ///< of the session's companions, or of the samples that are printed
    std::filesystem::path file{}; ///< its name and folder

    /// A mix has two; of mics each has one.
    int channels() const {
        return holds == Holds::mix ? 2 : holds == Holds::mics ? static_cast<int>(mics.size()) : 1;
    }
};

/// A mix is what its name ends in.
SampleFormat formatOf(const PrintedFile& file, const PrintSettings& settings);

/// All files of a print but the texts that go elsewhere.
struct PrintList {
    std::vector<PrintedFile> sounds; ///< in the order of mics, companions, click, mix
    std::filesystem::path about{};   ///< the text about it; empty: none
};

/// What would be printed, under the names that it would have now: nothing is written, the folder is only looked at.
/// Errors: badValue (names that cannot be a file's or are the same, nothing to print), unwritable (a file of the
/// recording, a protected one, a folder that holds the recording).
Expected<PrintList> printedFiles(const Session& session, const PrintSettings& settings);

/// Whether a print into this folder would replace files of an earlier one.
bool replacesEarlier(const Session& session, const PrintSettings& settings);

/// Letters of the takes that sound in a stretch: "A"; "comp" where there are several.
std::string takesIn(const Session& session, Range<ResultFrame> range);

/// The stretch that is printed, inside the song.
Range<ResultFrame> printedRange(const Session& session, const PrintSettings& settings);

} // namespace lampo
