#pragma once

#include "base/error.h"
#include "base/limits.h"
#include "base/progress.h"
#include "render/stretched_tails.h"
#include "seams/seam_answers.h"

#include <array>
#include <span>

namespace lampo {

/// Finds the place, the length and the curve with which a seam changes least over all mics together: no mic falls
/// under its quieter side nor rises over its louder one, in its whole sound and above what its ring is made of. The
/// rule's place stays unless another is better by more than it is farther from the attack. One thread at a time.
class SeamSearch {
public:
    /// Reads through `kit`.
    SeamSearch(const Session& session, std::shared_ptr<KitReader> kit);
    /// Errors: those of AudioReader.
    Expected<SeamAnswer> answer(const SeamQuestion& question);

private:
    SampleRate rate_;
    std::shared_ptr<KitReader> kit_;
    StretchedTails tails_;
    std::array<bool, limits::mics> overheads_{}; ///< which of the mics are
    std::size_t mics_;
};

/// All of them, on all cores. Errors: those of AudioReader; what was found before is kept in `answers`.
Expected<void> searchSeams(const Session& session, std::span<const SeamQuestion> questions, SeamAnswers& answers,
                           const Progress& progress);

} // namespace lampo
