#pragma once

#include <algorithm>
#include <atomic>
#include <cstdint>
#include <thread>
#include <vector>

namespace lampo {

/// Calls work(0) to work(count - 1) on threads of its own, as many as there are cores: what is called may itself
/// use the kept pool.
void onAllCores(std::uint64_t count, auto&& work) {
    std::atomic<std::uint64_t> next{0};
    std::vector<std::jthread> workers;
    for (unsigned i = 0; i < std::max(1U, std::thread::hardware_concurrency()); ++i)
        workers.emplace_back([&] {
            for (std::uint64_t each = next++; each < count; each = next++)
                work(each);
        });
}

} // namespace lampo
