#pragma once

#include "render/stretched_tails.h"

#include <map>

namespace lampo {

/// Lays the patches of a plan over its sound. One thread at a time, but for apply(): several at once, each with a
/// mic of its own.
class Patcher {
public:
    /// All of them outlive it. Patches sound from elsewhere, so they are read beside the plan.
    Patcher(const Plan& plan, KitReader& kit, StretchedTails& tails)
        : plan_(plan), kit_(kit.beside()), tails_(tails) {}

    /// What apply() needs for any place in the block. Errors: those of AudioReader.
    Expected<void> prepare(Range<ResultFrame> block);
    /// Over the plan's sound of one mic from `at` on, in a prepared block. Errors: those of AudioReader.
    Expected<void> apply(MicIndex mic, ResultFrame at, std::span<float> sound) const;

private:
    /// Gains frame by frame of one fade.
    struct Fade {
        std::vector<float> plan, patch;
    };
    struct Fades {
        Fade in, out;
    };
    Expected<void> fetch(const PlannedPatch& patch, Range<ResultFrame> block);
    Expected<Fade> fadeOver(const PlannedPatch& patch, Range<ResultFrame> range, bool comesUp);
    Expected<double> likeness(const PlannedPatch& patch, Range<ResultFrame> range);
    void mix(const PlannedPatch& patch, const Fades& fades, ResultFrame at, std::span<const float> source,
             std::span<float> sound) const;

    const Plan& plan_;
    KitReader& kit_;
    StretchedTails& tails_;
    std::map<std::size_t, Fades> ready_; ///< of the patches in the prepared block
};

} // namespace lampo
