#pragma once

#include "base/error.h"
#include "edits/edit.h"
#include "map/musical_map.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace lampo::cli {

/// LETTER=DIR.
struct TakeOption {
    TakeLetter letter;
    std::filesystem::path folder;
};
std::optional<TakeOption> takeOptionIn(const std::string& text);

/// One piece of --comp: "A:1-8" (bars 1 to 8), "A:9.3-12" (from beat 3 of bar 9 to the end of bar 12), "B:12-13.2"
/// (up to beat 2 of bar 13), "B:12" (one bar).
struct CompRange {
    TakeLetter take;
    BarBeat begin;
    BarBeat end; ///< not of the range any more
};
/// Pieces apart by commas; none when one of them cannot be read.
std::optional<std::vector<CompRange>> compIn(const std::string& text);

/// The edits that lay the ranges one after another. The take of the earliest range sounds before it too, that of
/// the latest goes on to the end of its files. Errors: badValue (a take that is not there, a range outside the
/// song).
Expected<std::vector<Edit>> editsOf(const std::vector<CompRange>& comp, const Session& session);

/// The input with every take brought in; without an input, the first take makes the session. Missing mics are told
/// by `missing`, one sentence each. Errors: those of openInput and planImport; badValue (two takes of one letter).
Expected<Session> withTakes(std::optional<Session> session, const std::vector<TakeOption>& takes, bool mend,
                            std::vector<std::string>& missing);

} // namespace lampo::cli
