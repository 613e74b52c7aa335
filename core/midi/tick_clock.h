#pragma once

#include "base/units.h"
#include "midi/midi_file.h"

#include <vector>

namespace lampo {

/// Which tick of a file sounds when, by its own tempo events: what every reader of the file computes.
class TickClock {
public:
    /// By the tempos of all tracks; 120 BPM until the first of them (Standard MIDI Files 1.0).
    explicit TickClock(const MidiFile& file);
    /// The tick nearest to a time from the file's begin; 0 before it.
    std::int64_t tickAt(Seconds time) const;

private:
    struct Span {
        std::int64_t tick;    ///< at which it begins
        double micros;        ///< and when
        double microsPerTick; ///< in it
    };
    std::vector<Span> spans_;
};

} // namespace lampo
