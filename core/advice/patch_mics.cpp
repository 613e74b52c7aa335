#include "advice/patch_mics.h"

#include <algorithm>

namespace lampo {

std::vector<std::string> micsOfDrum(const Session& session, MicIndex mic) {
    const Mic& own = session.mics[mic];
    std::vector<std::string> stems;
    for (const Mic& other : session.mics) {
        const bool grouped = !own.group.empty() && other.group == own.group;
        const bool alike = other.role == own.role && (own.role == Role::kick || own.role == Role::snare);
        if (other.stem == own.stem || grouped || alike)
            stems.push_back(other.stem);
    }
    return stems;
}

std::vector<std::string> PatchMics::of(const Session& session, const SongHit& hit) const {
    if (which == Which::own)
        return hit.mic ? micsOfDrum(session, *hit.mic) : std::vector<std::string>{};
    std::vector<std::string> stems;
    for (const Mic& mic : session.mics)
        if (which == Which::all || std::find(these.begin(), these.end(), mic.stem) != these.end())
            stems.push_back(mic.stem);
    return stems;
}

} // namespace lampo
