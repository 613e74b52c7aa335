#pragma once

#include "player/audio_device.h"

#include <memory>

namespace lampo {

/// The system's default output, or null where there is none.
std::unique_ptr<AudioDevice> systemDevice();

/// The system's output, or the simulated one where there is none or the environment says LAMPO_AUDIO=simulated.
std::unique_ptr<AudioDevice> defaultDevice();

} // namespace lampo
