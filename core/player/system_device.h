#pragma once

#include "player/audio_device.h"

#include <memory>

namespace lampo {

/// The system's default output; the simulated one where the environment says LAMPO_AUDIO=simulated. Where the
/// system has none, the simulated device stands in, so that the time runs, and its remark says so.
std::unique_ptr<AudioDevice> defaultDevice();

} // namespace lampo
