#include "base/parallel.h"

#include <algorithm>
#include <atomic>
#include <thread>
#include <vector>

namespace lampo {

std::size_t cores() {
    return std::max(1U, std::thread::hardware_concurrency());
}

void forEachIndex(std::size_t count, const std::function<void(std::size_t)>& work, std::size_t threads) {
    std::atomic<std::size_t> next{0};
    const auto run = [&] {
        for (std::size_t index = next++; index < count; index = next++)
            work(index);
    };
    std::vector<std::jthread> helpers;
    for (std::size_t helper = 1; helper < std::min(threads, count); ++helper)
        helpers.emplace_back(run);
    run();
}

Expected<void> tryEachIndex(std::size_t count, const std::function<Expected<void>(std::size_t)>& work,
                            std::size_t threads) {
    std::vector<Expected<void>> results(count);
    forEachIndex(
        count, [&](std::size_t index) { results[index] = work(index); }, threads);
    const auto failed = std::find_if(results.begin(), results.end(), [](const auto& result) { return !result; });
    return failed == results.end() ? Expected<void>{} : *failed;
}

} // namespace lampo
