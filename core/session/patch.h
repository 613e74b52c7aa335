#pragma once

#include "base/limits.h"
#include "base/range.h"
#include "session/correction.h"

#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// What is done to some mics.
enum class PatchKind {
    replace, ///< another stroke of the same drum sounds instead
    shift,   ///< what sounds comes earlier or later
    gain,    ///< it is louder or softer
    silence, ///< nothing sounds
    borrow,  ///< the same stretch of another take or bar sounds instead
    seam,    ///< its slice begins earlier, or sounds on longer, than the plan has it
};
/// As projects and reports have it.
inline constexpr EnumNames<PatchKind, PatchKind::seam> patchKindNames{"replace", "shift",  "gain",
                                                                      "silence", "borrow", "seam"};

/// An exception on named mics over one stretch, on top of the one plan, in which all other mics stay as they are.
/// It is kept by the source, so that it goes wherever its hit or its stretch goes.
struct Patch {
    PatchKind kind = PatchKind::gain; ///< what is done
    std::vector<std::string> mics;    ///< stems, at least one
    TakePlace at;                     ///< the hit's found place; without a hit any frame of the stretch
    bool ofHit = true;                ///< whether it stands and falls with the hit found there
    FrameCount before;                ///< how long before `at` it begins, with its fade
    FrameCount length;                ///< from there to its end, with its fade; above 0
    Milliseconds fadeIn{limits::patchFade.defaultValue};  ///< limits::patchFade
    Milliseconds fadeOut{limits::patchFade.defaultValue}; ///< limits::patchFade
    Decibels gain{0};                                     ///< limits::patchGain
    FrameCount shift{};                                   ///< how much later it sounds
    std::optional<TakePlace> from{}; ///< of replace and borrow: what sounds at `at`; of seam: whose slice
    bool on = true;                  ///< whether it is heard
    bool operator==(const Patch&) const = default;

    /// Whether it is one whose sound comes from `from`.
    bool bringsSound() const {
        return kind == PatchKind::replace || kind == PatchKind::borrow || kind == PatchKind::seam;
    }
    /// Both say the same thing of the same hit, or the begin of the same stretch, and mics: the later one counts.
    bool hasSameTarget(const Patch& other) const {
        return kind == other.kind && ofHit == other.ofHit && at == other.at && mics == other.mics &&
               (ofHit || before == other.before);
    }
};

/// Where two mics that were alike cancel first when one of them is shifted by so much, which is not 0: half a
/// period, Hz.
double firstNotch(FrameCount shift, SampleRate rate);

} // namespace lampo
