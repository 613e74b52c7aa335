#pragma once

#include "base/error.h"
#include "base/progress.h"
#include "session/relocate.h"
#include "session/session.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// A file of the recording that is not what it was when it was brought in.
struct SourceProblem {
    /// What is not as it was.
    enum class Kind { missing, unreadable, otherLength, otherContent };

    SourceFile wanted;         ///< as the session has it
    std::string mic;           ///< or companion: "snare_top of take B"
    Kind kind = Kind::missing; ///< what is not as it was
    Error error;               ///< with the file's name
};

/// Every file that the session names, each once, several at the same time: whether it is there, is read, is as long
/// and (where that was remembered) of the same content as when it was brought in. Empty when all are.
std::vector<SourceProblem> checkSources(const Session& session);

/// The session with a fingerprint for each file that has none yet: files that are being brought in, and those of
/// projects from before there were fingerprints. Reads a little of each file.
Session fingerprinted(Session session);

/// What would take a problem's place.
struct FoundSource {
    Relocation relocation; ///< from where it was to where it is
    /// What a file is found by; `hand`: it was chosen by the user.
    enum class By { content, nameAndLength, hand };
    By by = By::hand; ///< what it was found by
};

/// Looks for each of `problems` below `folder`: first for the same content under the same name, then under any
/// name, then for the same name and length. One answer for each problem, none where there is nothing. Looks at no
/// more than mostFilesLookedAt audio files. Errors: notFound (the folder), cancelled.
Expected<std::vector<std::optional<FoundSource>>> findSources(const std::vector<SourceProblem>& problems,
                                                              SampleRate rate, const std::filesystem::path& folder,
                                                              const Progress& progress);
inline constexpr std::size_t maxFilesLookedAt = 20000;

/// A file that was chosen by hand, or the same file as it is now. Errors: those of AudioReader::open.
Expected<FoundSource> takeInstead(const SourceProblem& problem, SampleRate rate, const std::filesystem::path& file);

} // namespace lampo
