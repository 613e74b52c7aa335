#pragma once

#include "player/audio_device.h"

#include <memory>

namespace lampo {

/// The system's default output; the simulated one where the environment says LAMPO_AUDIO=simulated. Where the
/// system has none, the simulated device stands in, so that the time runs, and its notice says so. To be
/// called before there are threads: it sets PULSE_LATENCY_MSEC in the environment, unless that is set.
std::unique_ptr<AudioDevice> defaultDevice();

} // namespace lampo
