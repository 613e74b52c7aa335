#pragma once

#include "base/error.h"
#include "session/session.h"

#include <variant>

namespace lampo {

/// How long before its attack a slice begins.
struct SetLeadIn {
    Milliseconds time; ///< limits::leadIn
};
/// How long the crossfade of a seam is.
struct SetFade {
    Milliseconds time; ///< limits::fade
};
/// What becomes of holes.
struct SetFill {
    Fill fill; ///< for all of them
};
/// How the sides of seams fade into one another.
struct SetFadeCurve {
    FadeCurve curve; ///< of all of them
};
/// How long before its attack a slice begins in a section.
struct SetSectionLeadIn {
    std::size_t section;              ///< index in Session::sections
    std::optional<Milliseconds> time; ///< limits::leadIn; none: that of the song
};
/// What becomes of holes in a section.
struct SetSectionFill {
    std::size_t section;      ///< index in Session::sections
    std::optional<Fill> fill; ///< none: that of the song
};
/// How far a tail may be stretched before it is marked.
struct SetMostStretch {
    double times; ///< limits::stretch
};
/// How far against the other mics a patch may shift a stroke before it is warned of.
struct SetFarShift {
    Milliseconds time; ///< limits::farShift
};
/// Takes the place of what was said about the same seams; what says nothing leaves them to the search again.
struct ShapeSeams {
    std::vector<SeamByHand> seams; ///< at least one
};

using SeamEdit = std::variant<SetLeadIn, SetFade, SetFill, SetFadeCurve, SetSectionLeadIn, SetSectionFill,
                              SetMostStretch, SetFarShift, ShapeSeams>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const SeamEdit& edit, Session& session);
std::string describe(const Session& session, const SeamEdit& edit);

} // namespace lampo
