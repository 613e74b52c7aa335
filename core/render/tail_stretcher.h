#pragma once

#include "base/indices.h"
#include "base/units.h"

#include <span>
#include <vector>

namespace lampo {

/// How much before a tail is heard with it when it is stretched, so that it begins as what it follows.
inline constexpr Milliseconds beforeTail{25};

/// Lengthens a tail on all mics at once, so that delays between them stay what they are: a phase vocoder whose
/// spectra are turned, frame by frame, by the same angles in every mic. The angles continue what rings most
/// (Laroche and Dolson, "Improved phase vocoder time-scale modification of audio", IEEE Transactions on Speech and
/// Audio Processing, 1999, from memory: two analysis frames one hop apart, phases locked around peaks), each mic
/// counting alike. No attack may lie in the tail.
///
/// `mics`: `before` + tail frames each, as many in each; `length`: of the tail when it is lengthened, at least as
/// long. Gives `length` frames for each mic. The same sound gives the same result.
std::vector<std::vector<float>> stretchTail(std::span<const std::vector<float>> mics, FrameCount before,
                                            FrameCount length, SampleRate rate);

} // namespace lampo
