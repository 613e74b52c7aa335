#pragma once

#include "base/error.h"
#include "session/session.h"

#include <memory>
#include <string>
#include <variant>

namespace lampo {

/// One take throughout.
struct ChooseTake {
    TakeIndex take;
};
/// A range sounds from one take, or is silent. With `graft` from elsewhere; see Passage.
struct Lay {
    Range<SongFrame> range;
    std::optional<TakeIndex> take;
    std::optional<FrameCount> graft{};
};
/// A range sounds as the passages say, of which the first begins at its begin.
struct LayPassages {
    Range<SongFrame> range;
    std::vector<Passage> passages;
    std::string what; ///< for the history
};
/// Between the borders before and behind it.
struct MoveBorder {
    std::size_t passage; ///< whose begin it is; not the first
    SongFrame to;
};
/// None: as all seams.
struct SetBorderFade {
    SongFrame border;
    std::optional<Milliseconds> fade;
};
struct InsertBars {
    int before;
    int bars;
};
/// [first, first + bars) sounds once more behind itself.
struct RepeatBars {
    int first;
    int bars;
};
struct DeleteBars {
    int first;
    int bars;
};
struct SetTakeStart {
    TakeIndex take;
    FrameCount start;
};
struct SetTakeNote {
    TakeIndex take;
    std::string note;
};
struct SetTakeTint {
    TakeIndex take;
    std::optional<int> tint;
};
/// 0 takes ratings back.
struct Rate {
    TakeLetter take;
    int firstBar;
    int bars;
    int marks;
};
/// Keeps what sounds in a range as one way to fill it.
struct KeepTry {
    Range<SongFrame> range;
};
struct LayTry {
    std::size_t index;
};
struct DeleteTry {
    std::size_t index;
};
struct KeepVersion {
    std::string name;
    std::string kept;              ///< when
    std::filesystem::path print{}; ///< see Version
};
struct RenameVersion {
    std::size_t version;
    std::string name;
};
/// A copy under another name, to try something.
struct DuplicateVersion {
    std::size_t version;
    std::string name;
};
struct DeleteVersion {
    std::size_t version;
};
/// The session becomes what the version holds; the kept versions stay.
struct RestoreVersion {
    std::size_t version;
};

using TakeEdit = std::variant<ChooseTake, Lay, LayPassages, MoveBorder, SetBorderFade, InsertBars, RepeatBars,
                              DeleteBars, SetTakeStart, SetTakeNote, SetTakeTint, Rate, KeepTry, LayTry, DeleteTry,
                              KeepVersion, RenameVersion, DuplicateVersion, DeleteVersion, RestoreVersion>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const TakeEdit& edit, Session& session);
std::string describe(const Session& session, const TakeEdit& edit);

} // namespace lampo
