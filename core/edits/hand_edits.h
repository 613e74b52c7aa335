#pragma once

#include "base/error.h"
#include "session/session.h"

#include <string>
#include <variant>

namespace lampo {

/// Those in its way give way.
struct MakePhrase {
    Phrase phrase; ///< may share no hit with another of its take
};
/// The hits of a phrase land one by one again.
struct DeletePhrase {
    std::size_t index; ///< in Session::phrases
};
/// Takes the place of what was shoved there before; by nothing, it is as played again.
struct Shove {
    PassageMove move; ///< over the whole of which hits are moved, before they are quantized
};
/// Moves hits after they have landed.
struct Slip {
    PassageMove move; ///< over the whole of which hits are moved
};
/// A stretch of a take as if no hand had touched it: corrections, phrases, shoves and slips in it go.
struct ClearByHand {
    TakeLetter take;          ///< of the passage
    Range<SourceFrame> range; ///< in which phrases, moves and landings set by hand go
};

using HandEdit = std::variant<MakePhrase, DeletePhrase, Shove, Slip, ClearByHand>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const HandEdit& edit, Session& session);
std::string describe(const Session& session, const HandEdit& edit);

} // namespace lampo
