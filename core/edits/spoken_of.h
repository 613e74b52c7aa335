#pragma once

#include "session/refusals.h"
#include "session/session.h"

namespace lampo {

/// Changes the mic that an edit speaks of. Errors: badValue when there is no such mic; else what `change` answers.
template <class Change>
Expected<void> onMic(Session& session, MicIndex mic, Change&& change) {
    if (mic >= session.mics.size())
        return noSuch("mic");
    return change(session.mics[mic]);
}

/// For describe(): the name as it is shown, "a mic" or "a section" where there is none.
std::string micName(const Session& session, MicIndex mic);
/// "take A".
std::string takeName(const Session& session, TakeIndex take);
std::string sectionName(const Session& session, std::size_t section);

} // namespace lampo
