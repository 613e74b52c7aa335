#pragma once

#include "demo_kit/acoustics.h"
#include "map/map_data.h"
#include "session/section.h"

#include <vector>

namespace lampo::demo {

/// "Lighthouse Relay": 104 BPM, a count-in bar, 22 bars, the eleventh of them 2/4, a triplet fill in the twelfth.
struct Score {
    MapData map;
    std::vector<Section> sections;
    std::int64_t length; ///< frames
};

Score lighthouseRelay(int rate);

/// The strokes of take 'A', 'B' or 'C', in order of time. A has a spoiled bar (9), a passage that rushes by more
/// than half a grid step (14 and 15) and a weak snare stroke (bar 17, beat 4); B has the better fill (12); all have
/// ghost notes (bars 2 to 6, 13 to 17) and a flam (bar 10, beat 4).
std::vector<Stroke> performance(const Score& score, char take, int rate);

struct BassNote {
    std::int64_t sample;
    double hertz;
    double seconds;
};
std::vector<BassNote> bassLine(const Score& score, int rate);

} // namespace lampo::demo
