#pragma once

#include "base/error.h"

#include <cstddef>
#include <functional>

namespace lampo {

/// For work that computes: as many threads as the machine has cores.
std::size_t cores();
/// For work that waits for disks.
inline constexpr std::size_t ioThreads = 32;

/// Calls work(0) … work(count − 1), each once, on at most `threads` threads (the calling one among them), and
/// returns when all have returned; what they wrote is there then. `work` must not throw, must be safe to run
/// concurrently, and may call this itself. The threads are kept for the next call.
void forEachIndex(std::size_t count, const std::function<void(std::size_t)>& work, std::size_t threads = cores());

/// The same for work that can fail: all of it is done, and the error is that of the lowest index that failed.
Expected<void> tryEachIndex(std::size_t count, const std::function<Expected<void>(std::size_t)>& work,
                            std::size_t threads = cores());

} // namespace lampo
