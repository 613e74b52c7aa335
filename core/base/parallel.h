#pragma once

#include "base/error.h"

#include <cstddef>
#include <functional>

namespace lampo {

/// Calls work(0) … work(count − 1), each once, on as many threads as the machine has cores (the calling thread is
/// one of them), and returns when all have returned. `work` must not throw and must be safe to run concurrently.
void forEachIndex(std::size_t count, const std::function<void(std::size_t)>& work);

/// The same for work that can fail: all of it is done, and the error is that of the lowest index that failed.
Expected<void> tryEachIndex(std::size_t count, const std::function<Expected<void>(std::size_t)>& work);

} // namespace lampo
