#pragma once

#include "base/error.h"
#include "session/session.h"

#include <string>
#include <variant>

namespace lampo {

/// Those in its way give way.
struct MakePhrase {
    Phrase phrase;
};
struct DeletePhrase {
    std::size_t index;
};
/// Takes the place of what was shoved there before; by nothing, it is as played again.
struct Shove {
    PassageMove move;
};
struct Slip {
    PassageMove move;
};
/// A stretch of a take as if no hand had touched it: corrections, phrases, shoves and slips in it go.
struct ClearByHand {
    TakeLetter take;
    Range<SourceFrame> range;
};

using HandEdit = std::variant<MakePhrase, DeletePhrase, Shove, Slip, ClearByHand>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const HandEdit& edit, Session& session);
std::string describe(const Session& session, const HandEdit& edit);

} // namespace lampo
