#pragma once

#include "audio/audio_reader.h"
#include "base/error.h"
#include "session/session.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// What becomes of one file, or of one channel of it. All of it may be changed before it is done.
struct ImportItem {
    /// What a file, or a channel, is taken for.
    enum class Use { mic, companion, leaveOut };

    SourceFile source;          ///< the file, and which of its channels
    AudioInfo info;             ///< of the file, at its own rate
    Use use = Use::mic;         ///< what is done with it
    TakeLetter take;            ///< that it belongs to; of a mic only
    std::string mic;            ///< the stem of its mic, or the companion's name
    std::optional<Error> error; ///< why it can only be left out
};

/// What bringing in files will do, before it is done.
struct ImportPlan {
    std::string title;             ///< of a session that begins with these files
    SampleRate rate;               ///< that everything is brought to
    std::vector<Mic> mics;         ///< in rank order
    std::vector<ImportItem> items; ///< one for each file, or channel

    /// Letters of the takes that have a file, in order.
    std::vector<TakeLetter> takes() const;
    /// The rank of an item's mic; none when it is not a mic's.
    std::optional<MicIndex> rankOf(const ImportItem& item) const;
    /// What is worth knowing about an item, in words: converted, padded, a channel, why it is left out. Empty when
    /// it is brought in as it is.
    std::string notice(const ImportItem& item) const;
    /// After items were changed: mics that have no file any more go, new ones get a place in the kit, and an item
    /// that stands in another's place (same take, same mic) is marked with an error.
    void settle();
};

/// Looks at folders (each one take; or one whose file names carry mic and take; or one of folders, each a take) and
/// single files. Only headers are read. Names in common use tell what stands beside the kit (bass, guitar, loop)
/// and is never cut. With a session, its mics and letters are kept and what comes is added to it. Errors: notFound,
/// unreadable, noAudio, badValue (more mics or takes than there can be).
Expected<ImportPlan> planImport(const std::vector<std::filesystem::path>& inputs, const Session* into = nullptr);

/// The session that the plan makes, or what it makes of `into`; reads a little of each file for its fingerprint.
/// Errors: noAudio (nothing is left to bring in).
Expected<Session> sessionOf(const ImportPlan& plan, const Session* into = nullptr);

/// "snare_take 2" is the snare in take 2. The take is empty when the name does not speak of one.
struct TakeName {
    std::string mic;  ///< the stem without what names the take
    std::string take; ///< a letter, a number or a word
};
TakeName splitTakeName(const std::string& stem);

} // namespace lampo
