#pragma once

#include "base/error.h"
#include "session/session.h"

#include <memory>
#include <string>
#include <variant>

namespace lampo {

/// One take throughout.
struct ChooseTake {
    TakeIndex take; ///< that sounds
};
/// A range sounds from one take, or is silent. With `graft` from elsewhere; see Passage.
struct Lay {
    Range<SongFrame> range;            ///< of the song
    std::optional<TakeIndex> take;     ///< none: silence
    std::optional<FrameCount> graft{}; ///< how far from its own place the take lies; none: it lies there
};
/// A range sounds as the passages say, of which the first begins at its begin.
struct LayPassages {
    Range<SongFrame> range;        ///< of the song
    std::vector<Passage> passages; ///< the first begins where the range does
    std::string what;              ///< for the history
};
/// Between the borders before and behind it.
struct MoveBorder {
    std::size_t passage; ///< whose begin it is; not the first
    SongFrame to;        ///< where the border shall lie
};
/// None: as all seams.
struct SetBorderFade {
    SongFrame border;                 ///< where it lies
    std::optional<Milliseconds> fade; ///< limits::borderFade; none: as all seams
};
/// Bars of silence in the song; what comes behind moves on.
struct InsertBars {
    int before; ///< the bar that the first of them pushes on
    int bars;   ///< how many
};
/// [first, first + bars) sounds once more behind itself.
struct RepeatBars {
    int first; ///< the first of them
    int bars;  ///< how many
};
/// Bars go out of the song; what comes behind moves up.
struct DeleteBars {
    int first; ///< the first of them
    int bars;  ///< how many
};
/// Where a take begins on the click's time.
struct SetTakeStart {
    TakeIndex take;   ///< the take
    FrameCount start; ///< limits::takeStart
};
/// The user's words about a take.
struct SetTakeNote {
    TakeIndex take;   ///< the take
    std::string note; ///< empty: nothing to say
};
/// The tint by which a take is told on the screen.
struct SetTakeTint {
    TakeIndex take;          ///< the take
    std::optional<int> tint; ///< 0 to takeTints − 1; none: by its place
};
/// 0 takes ratings back.
struct Rate {
    TakeLetter take; ///< of the bars
    int firstBar;    ///< the first of them
    int bars;        ///< how many
    int marks;       ///< 0 (nothing said) to maxMarks
};
/// Keeps what sounds in a range as one way to fill it.
struct KeepTry {
    Range<SongFrame> range; ///< of the song, as it sounds now
};
/// What is kept sounds again.
struct LayTry {
    std::size_t index; ///< in Session::tries
};
/// A try is not needed any more.
struct DeleteTry {
    std::size_t index; ///< in Session::tries
};
/// All that is decided now is kept under a name.
struct KeepVersion {
    std::string name;              ///< not empty, not another version's
    std::string kept;              ///< when
    std::filesystem::path print{}; ///< see Version
};
/// A version gets another name.
struct RenameVersion {
    std::size_t version; ///< in Session::versions
    std::string name;    ///< not empty, not another version's
};
/// A copy under another name, to try something.
struct DuplicateVersion {
    std::size_t version; ///< in Session::versions
    std::string name;    ///< of the second one
};
/// A version is not needed any more.
struct DeleteVersion {
    std::size_t version; ///< in Session::versions
};
/// The session becomes what the version holds; the kept versions stay.
struct RestoreVersion {
    std::size_t version; ///< in Session::versions
};

using TakeEdit = std::variant<ChooseTake, Lay, LayPassages, MoveBorder, SetBorderFade, InsertBars, RepeatBars,
                              DeleteBars, SetTakeStart, SetTakeNote, SetTakeTint, Rate, KeepTry, LayTry, DeleteTry,
                              KeepVersion, RenameVersion, DuplicateVersion, DeleteVersion, RestoreVersion>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const TakeEdit& edit, Session& session);
std::string describe(const Session& session, const TakeEdit& edit);

} // namespace lampo
