#pragma once

#include <cstdint>
#include <vector>

namespace lampo::test {

/// Onsets found by aubio's "hfc" detector (libaubio), the reference: buffer 512, hop 128; threshold 0 takes aubio's
/// own.
std::vector<std::int64_t> aubioOnsets(const std::vector<float>& samples, int rate, double threshold = 0);

} // namespace lampo::test
