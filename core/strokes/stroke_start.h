#pragma once

#include <cstddef>
#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// A stretch of one channel, at the rate of AttackSounds: `perMs` samples each ms.
using Sound = std::vector<float>;
/// How many samples last so long, ms.
inline std::size_t samplesIn(double ms, double perMs) {
    return static_cast<std::size_t>(ms * perMs + 0.5);
}

/// A main rise in a sound: its envelope and the sample where its loudness grows most.
struct MainRise {
    Sound envelope;            ///< see envelopeOf()
    std::size_t at = 0;        ///< the sample
    std::size_t notBefore = 0; ///< what sounds before that sample is not the attack; 0: that is not known
};

/// Where an attack begins.
struct StrokeStart {
    double at = 0;             ///< sample
    bool outOfSilence = false; ///< nothing was heard before it
    double hidden = 0; ///< samples by which it may begin sooner, under what was there before it; 0 if in silence
};

/// What sounds before nearly all of so many strokes is their own, and no other drum's.
inline constexpr std::size_t manyStrokes = 5;

/// The loudest within 0.4 ms to both sides.
Sound envelopeOf(const Sound& sound, double perMs);

/// An envelope that lies so many samples later than a mean's.
struct ShiftedEnvelope {
    Sound envelope;         ///< see envelopeOf()
    std::ptrdiff_t lag = 0; ///< samples
};
/// At each place of the mean the envelope that only `share` of them are softer than, so that what came before some
/// of them does not count; nowhere more than the mean's own.
Sound sharedEnvelopeOf(Sound mean, std::span<const ShiftedEnvelope> envelopes, double share);

/// The sample at which an attack begins whose main rise is known: back from there to −20 dB of its peak, or higher
/// where what was there before is louder, and on to where it leaves that; a little before anything that one could
/// hear. None: what is as loud all the way back rang before. `sure`: the envelope of what sounds in nearly all of
/// manyStrokes or more; empty when they are fewer.
std::optional<StrokeStart> startOf(const MainRise& attack, const Sound& sure, double perMs);

/// By how many samples `other` lies later in its sound than `known` in its own, by their contours in dB around
/// `known.at`, at most 8 ms from where both places lie over each other. None where they are unlike.
std::optional<double> contourLag(const MainRise& known, const MainRise& other, double perMs);

} // namespace lampo
