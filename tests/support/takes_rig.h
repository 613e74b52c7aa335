#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"
#include "support/temp_folder.h"

#include <random>

namespace lampo::test {

/// Three takes of one song at 120 BPM and 48 kHz whose strokes are known: each take plays most sixteenths of a
/// pattern, drifts smoothly by up to `drift` steps, with jitter. Their files carry their own position (two tracers)
/// and the number of their take.
class TakesRig {
public:
    static constexpr std::int64_t sixteenth = 6000;
    static constexpr std::int64_t bar = 16 * sixteenth;
    static constexpr int bars = 12;

    /// Bars first to end − 1 of the song.
    static Range<SongFrame> barsOf(int first, int end) {
        return {SongFrame{(first - 1) * bar}, SongFrame{(end - 1) * bar}};
    }

    explicit TakesRig(unsigned seed, double drift = 0.4, double jitterMs = 4);

    struct Stroke {
        std::int64_t line; ///< which sixteenth is meant, from 0
        std::int64_t at;   ///< frames from the start of the take
    };
    /// What each take played, in order of time.
    std::vector<std::vector<Stroke>> played;
    Session session;
    Analyses analyses;

    std::shared_ptr<const Outcome> outcome(const Outcome* before = nullptr) const {
        return outcomeOf(session, analyses, before);
    }
    /// False when it was refused.
    bool edit(const Edit& change);

    /// What a printed frame is, by its tracers.
    struct Traced {
        std::size_t take;
        std::int64_t source;
        bool operator==(const Traced&) const = default;
    };
    /// For every frame of the result; none in fades and holes (in a fade by accident one may be given).
    std::vector<std::optional<Traced>> trace(const Plan& plan) const;

private:
    static const TempFolder& files();
};

} // namespace lampo::test
