#pragma once

#include "base/descriptor.h"
#include "base/error.h"
#include "session/session.h"

#include <cstdint>
#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace lampo {

/// One undoable step.
struct HistoryStep {
    std::string label; ///< what was done, for the history
    Session after;     ///< the session that it led to
};

/// A history as it is at one moment: every step that can be undone or done again, and how many are done. Steps are
/// shared with the history itself; the same pointer is the same step.
struct HistoryState {
    std::vector<std::shared_ptr<const HistoryStep>> steps{}; ///< all of them, also those that were undone
    std::size_t done = 0;                                    ///< how many of them are in force
    std::optional<std::size_t> saved{}; ///< so many steps are in the project's file; none: it is another state

    /// Whether the project's file holds what is in force.
    bool isSaved() const { return saved == done; }
};

/// What a journal holds.
struct JournalContent {
    std::filesystem::path project; ///< empty: never saved
    std::int64_t at = 0;           ///< when the last record was written, seconds since 1970
    Session base;                  ///< before the first step
    HistoryState history;          ///< all steps that were written
};

/// Everything that was done to a project since it was opened, on the disk: appended step by step, each record with
/// its checksum, and synced. A record is what is new: the steps kept, then each step as one changed stretch of the
/// project's text. The file is locked as long as its writer lives, which tells a journal in use from one that a
/// crash left. Its end leaves the file. One thread at a time.
class Journal {
public:
    /// Replaces what the file held. Makes the folder. Errors: unwritable (also when another process has this
    /// journal in use), diskFull.
    static Expected<Journal> begin(const std::filesystem::path& file, const std::filesystem::path& project,
                                   const Session& base);
    /// Appends what changed since the last call, and syncs. Errors: diskFull; the next call tries again.
    Expected<void> write(const HistoryState& history);
    /// The work is saved, or given up on purpose.
    void remove();

private:
    Journal(std::filesystem::path file, Descriptor descriptor, const Session& base);
    Expected<void> append(std::string_view record);
    std::string textBefore(const HistoryState& history, std::size_t step) const;

    std::filesystem::path file_;
    Descriptor descriptor_;
    std::string baseText_;
    HistoryState written_;
};

/// As far as it is whole: what a crash tore off at the end is missing. At most the last `mostSteps` steps; the base
/// is then where these begin. Errors: notFound, unreadable, damagedProject (not a journal).
Expected<JournalContent> readJournal(const std::filesystem::path& file, std::size_t maxSteps = 200);

/// Nobody is writing it.
bool isLeft(const std::filesystem::path& journal);

} // namespace lampo
