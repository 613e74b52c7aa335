#include "base/parallel.h"

#include <algorithm>
#include <atomic>
#include <condition_variable>
#include <deque>
#include <mutex>
#include <thread>
#include <vector>

namespace lampo {
namespace {

/// What one call wants done; lives as long as the call.
class Job {
public:
    Job(std::size_t count, const std::function<void(std::size_t)>& work) : count_(count), work_(work) {}

    void help() {
        for (std::size_t index = next_++; index < count_; index = next_++)
            work_(index);
    }

    std::size_t helpers = 0; ///< under way; guarded by the pool

private:
    std::atomic<std::size_t> next_{0};
    std::size_t count_;
    const std::function<void(std::size_t)>& work_;
};

/// Threads that wait for calls. The caller works on its own call as well, so that calls from within work end, also
/// when no thread is free.
class Pool {
public:
    ~Pool() {
        {
            const std::scoped_lock lock(guard_);
            stopped_ = true;
        }
        wake_.notify_all();
    }

    void run(Job& job, std::size_t helpers) {
        {
            const std::scoped_lock lock(guard_);
            wanted_.insert(wanted_.end(), helpers, &job);
            while (idle_ + starting_ < wanted_.size() && threads_.size() < maxThreads) {
                ++starting_;
                threads_.emplace_back([this] { serve(); });
            }
        }
        for (std::size_t helper = 0; helper < helpers; ++helper)
            wake_.notify_one();
        job.help();
        std::unique_lock lock(guard_);
        std::erase(wanted_, &job);
        left_.wait(lock, [&] { return job.helpers == 0; });
    }

private:
    static constexpr std::size_t maxThreads = 64;

    void serve() {
        std::unique_lock lock(guard_);
        --starting_;
        for (;;) {
            ++idle_;
            wake_.wait(lock, [&] { return stopped_ || !wanted_.empty(); });
            --idle_;
            if (stopped_)
                return;
            Job& job = *wanted_.front();
            wanted_.pop_front();
            ++job.helpers;
            lock.unlock();
            job.help();
            lock.lock();
            if (--job.helpers == 0)
                left_.notify_all();
        }
    }

    std::mutex guard_;
    std::condition_variable wake_, left_;
    std::deque<Job*> wanted_; ///< one entry for each helper that a call may have
    std::size_t idle_ = 0, starting_ = 0;
    bool stopped_ = false;
    std::vector<std::jthread> threads_; ///< goes first
};

} // namespace

std::size_t cores() {
    static const std::size_t known =
        std::max(1U, std::thread::hardware_concurrency()); // asked of the system's files
    return known;
}

void forEachIndex(std::size_t count, const std::function<void(std::size_t)>& work, std::size_t threads) {
    Job job(count, work);
    const std::size_t most = std::min(threads, count);
    if (most < 2)
        return job.help();
    static Pool pool;
    pool.run(job, most - 1);
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
