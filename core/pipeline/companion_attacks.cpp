#include "pipeline/companion_attacks.h"

#include <algorithm>

namespace lampo {
namespace {

/// Faster notes of a melody instrument are ornaments; common practice, no source.
constexpr Milliseconds shortestNote{60};

} // namespace

AnalysisKey companionKey(const Session& session, const Companion& companion) {
    return {companion.file, session.rate, {1, 1, 1, 1}};
}

std::vector<SongFrame> companionAttacks(const Session& session, const Analyses& analyses, const std::string& name,
                                        Decibels threshold) {
    std::vector<SongFrame> attacks;
    const auto companion = std::find_if(session.companions.begin(), session.companions.end(),
                                        [&](const Companion& c) { return c.name == name; });
    const auto heard =
        companion == session.companions.end() ? nullptr : analyses.of(companionKey(session, *companion));
    if (!heard)
        return attacks;
    const FrameCount gap = toFrames(shortestNote, session.rate);
    for (std::size_t part = 0; part < session.form.size(); ++part) {
        if (!session.form[part].moved)
            continue;
        const bool last = part + 1 == session.form.size();
        for (const Candidate& candidate : heard->candidates) {
            const SongFrame at = candidate.at + SourceToSong{*session.form[part].moved};
            if (candidate.level < threshold || (part > 0 && at < session.form[part].begin) ||
                (!last && at >= session.form[part + 1].begin))
                continue;
            if (attacks.empty() || at - attacks.back() >= gap)
                attacks.push_back(at);
        }
    }
    return attacks;
}

} // namespace lampo
