#pragma once

#include "audio/source_file.h"
#include "base/limits.h"
#include "base/units.h"
#include "session/correction.h"

#include <algorithm>
#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// Recordings of one stroke that sound in turn, for strokes up to a level. A file's offset says where its first
/// frame lies against the mark of the stroke.
struct SampleLayer {
    Decibels upTo; ///< against a typical strong hit; the last layer sounds for all that is louder, too
    std::vector<SourceFile> files; ///< at least one
    bool operator==(const SampleLayer&) const = default;
};

/// What the user said about one hit of a drum sample.
struct SampleHit {
    TakePlace at;                    ///< the hit, by where it was found
    bool out = false;                ///< nothing sounds there
    std::optional<Decibels> level{}; ///< in place of that of the stroke
    bool operator==(const SampleHit&) const = default;
};

/// A recording of one stroke (a few for other levels, others to sound in turn) that is played beside a drum at each
/// of its hits.
struct DrumSample {
    std::string name;                ///< of its track: a file's, and no mic's or other sample's
    std::string mic;                 ///< the stem of the mic that stands at the drum
    std::vector<SampleLayer> layers; ///< softest first; at least one
    Decibels level{0};               ///< how loud it is beside the drum; limits::level
    bool inverted = false;           ///< its polarity
    FrameCount later{};              ///< than where it fits the real attack
    bool on = true;                  ///< whether it sounds
    std::vector<SampleHit> said{};   ///< in the order in which it was said, one for a hit
    bool operator==(const DrumSample&) const = default;
};

/// What was said about a hit; null: nothing.
inline const SampleHit* saidAbout(const DrumSample& sample, const TakePlace& hit, SampleRate rate) {
    const auto said = std::find_if(sample.said.begin(), sample.said.end(), [&](const SampleHit& each) {
        return each.at.take == hit.take && abs(each.at.at - hit.at) <= correctionTolerance(rate);
    });
    return said != sample.said.end() ? &*said : nullptr;
}

/// Calls `visit` with every file of the samples.
template <class Samples, class Visit>
void eachSampleFile(Samples& samples, Visit&& visit) {
    for (auto& sample : samples)
        for (auto& layer : sample.layers)
            for (auto& file : layer.files)
                visit(sample, file);
}

} // namespace lampo
