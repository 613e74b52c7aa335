#pragma once

#include "session/session.h"

#include <cstdint>

namespace lampo {

/// What of a take's files decides how it sounds, as a hash: wherever they lie. Where the content of one is unknown,
/// its name stands for it.
std::uint64_t contentOf(const Take& take, SampleRate rate);

} // namespace lampo
