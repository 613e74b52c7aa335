#pragma once

#include "base/error.h"

#include <cstddef>
#include <functional>

namespace lampo {

/// How many threads to use, the calling one among them. As many as there are cores for work that computes; more for
/// work that waits for disks.
std::size_t cores();
inline constexpr std::size_t waiters = 32;

/// Calls work(0) … work(count − 1), each once, on at most `threads` threads, and returns when all have returned.
/// `work` must not throw and must be safe to run concurrently.
void forEachIndex(std::size_t count, const std::function<void(std::size_t)>& work, std::size_t threads = cores());

/// The same for work that can fail: all of it is done, and the error is that of the lowest index that failed.
Expected<void> tryEachIndex(std::size_t count, const std::function<Expected<void>(std::size_t)>& work,
                            std::size_t threads = cores());

} // namespace lampo
