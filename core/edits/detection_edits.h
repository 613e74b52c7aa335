#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

/// From where on a guide's strokes are hits.
struct SetThreshold {
    MicIndex mic;   ///< the guide
    Decibels level; ///< against the mic's typical strong hit, limits::threshold
};
/// How near two attacks of a guide are one.
struct SetShortestGap {
    MicIndex mic;     ///< the guide
    Milliseconds gap; ///< limits::shortestGap
};
/// Whether what other drums explain is left out.
struct SetBleedJudging {
    MicIndex mic; ///< the guide
    bool on;      ///< true: it is left out
};
/// None: as the mic's role wants it.
struct SetEmphasis {
    MicIndex mic;                       ///< the guide
    std::optional<BandWeights> weights; ///< by band; none: those of its role
};
/// What one section sets for one guide; nothing set drops it.
struct SetSectionDetection {
    std::size_t section;        ///< index in Session::sections
    SectionDetection detection; ///< of one guide there; an empty one follows the song again
};
/// Of a section, or of the song.
struct SetFinest {
    std::optional<std::size_t> section; ///< index in Session::sections; none: the song
    std::optional<Finest> finest;       ///< none: any note
};
/// Which strokes are one hit, and which of them lands. The window is 0 to 100 ms.
struct SetClusters {
    ClusterSettings clusters; ///< all of them
};
/// Each replaces what was said before about the same aspect of the same place. To remove a hit that was added is to
/// take the addition back.
struct Correct {
    std::vector<Correction> corrections; ///< added in this order; each replaces what was said of the same aspect
    /// One correction.
    Correct(Correction one) : corrections{std::move(one)} {}
    /// Several, as one step.
    Correct(std::vector<Correction> several) : corrections(std::move(several)) {}
};
/// Forgets all that was said about these places.
struct DeleteCorrections {
    std::vector<TakePlace> at; ///< the hits whose corrections go
};

using DetectionEdit = std::variant<SetThreshold, SetShortestGap, SetBleedJudging, SetEmphasis, SetSectionDetection,
                                   SetFinest, SetClusters, Correct, DeleteCorrections>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const DetectionEdit& edit, Session& session);
std::string describe(const Session& session, const DetectionEdit& edit);

} // namespace lampo
