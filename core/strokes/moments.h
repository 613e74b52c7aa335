#pragma once

#include "strokes/witness.h"

#include <cstdint>
#include <span>
#include <vector>

namespace lampo {

/// What one witness heard at one moment, and how much of it is its own drum's.
struct Event {
    std::uint32_t witness = 0;   ///< index among the witnesses
    std::uint32_t candidate = 0; ///< index among the witness's candidates
    double at = 0;               ///< ms
    BandEnergies added{};        ///< by which each band rose
    BandEnergies before{};       ///< what sounded there already
    double level = -200;         ///< dB, of `added` in the witness's weighted bands
    BandEnergies own{};          ///< the part of its own drum; all 0 when that was not struck
    bool struck = false;         ///< its drum was struck
};

/// All events of a take in order of time, and which of them lie near which.
class Moments {
public:
    /// Of all candidates of all witnesses.
    Moments(std::span<const Witness> witnesses, SampleRate rate);

    /// In order of time.
    std::vector<Event>& events() { return events_; }
    /// In order of time.
    const std::vector<Event>& events() const { return events_; }
    /// Events of other witnesses from `before` ms before an event to `after` ms behind it.
    void forNear(std::size_t event, double before, double after, auto&& visit) const {
        const Event& one = events_[event];
        for (std::size_t e = event; e-- > 0 && events_[e].at >= one.at - before;)
            if (events_[e].witness != one.witness)
                visit(e);
        for (std::size_t e = event + 1; e < events_.size() && events_[e].at <= one.at + after; ++e)
            if (events_[e].witness != one.witness)
                visit(e);
    }

private:
    std::vector<Event> events_;
};

} // namespace lampo
