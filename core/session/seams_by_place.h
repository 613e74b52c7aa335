#pragma once

#include "session/session.h"

namespace lampo {

/// What a session says about seams, place by place: a section's own settings before the song's. Quick, for those
/// who ask at every hit.
class SeamsByPlace {
public:
    /// Outlived by the session.
    explicit SeamsByPlace(const Session& session);
    /// That rule there.
    const SeamSettings& at(SongFrame place) const;

private:
    struct Part {
        Range<SongFrame> range;
        SeamSettings settings;
    };
    static const SeamSettings* in(const std::vector<Part>& parts, SongFrame place);

    const SeamSettings& song_;
    std::vector<Part> bars_, beats_; ///< in order, each apart; beats lie on top of bars
};

} // namespace lampo
