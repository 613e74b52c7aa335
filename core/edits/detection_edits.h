#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

struct SetThreshold {
    MicIndex mic;
    Decibels level;
};
struct SetShortestGap {
    MicIndex mic;
    Milliseconds gap;
};
struct SetBleedJudging {
    MicIndex mic;
    bool on;
};
/// None: as the mic's role wants it.
struct SetEmphasis {
    MicIndex mic;
    std::optional<BandWeights> weights;
};
/// What one section sets for one guide; nothing set drops it.
struct SetSectionDetection {
    std::size_t section;
    SectionDetection detection;
};
/// Of a section, or of the song.
struct SetFinest {
    std::optional<std::size_t> section;
    std::optional<Finest> finest;
};
/// Which strokes are one hit, and which of them lands. The window is 0 to 100 ms.
struct SetClusters {
    ClusterSettings clusters;
};
/// Each replaces what was said before about the same aspect of the same place. To remove a hit that was added is to
/// take the addition back.
struct Correct {
    std::vector<Correction> corrections;
    Correct(Correction one) : corrections{std::move(one)} {}
    Correct(std::vector<Correction> several) : corrections(std::move(several)) {}
};
/// Forgets all that was said about these places.
struct DeleteCorrections {
    std::vector<TakePlace> at;
};

using DetectionEdit = std::variant<SetThreshold, SetShortestGap, SetBleedJudging, SetEmphasis, SetSectionDetection,
                                   SetFinest, SetClusters, Correct, DeleteCorrections>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const DetectionEdit& edit, Session& session);
std::string describe(const Session& session, const DetectionEdit& edit);

} // namespace lampo
