#pragma once

#include <atomic>
#include <stop_token>
#include <thread>

namespace lampo::cli {

/// Makes the program end in order when it is interrupted, terminated or loses its terminal: the first such signal
/// asks all work to stop, a second one ends the program at once. To be made before any other thread.
class StopSignals {
public:
    StopSignals();
    ~StopSignals();
    StopSignals(const StopSignals&) = delete;
    StopSignals& operator=(const StopSignals&) = delete;

    std::stop_token token() const { return stop_.get_token(); }
    /// The signal that came; 0: none.
    int received() const { return received_; }

private:
    std::stop_source stop_;
    std::atomic<int> received_ = 0;
    std::thread waiting_;
};

} // namespace lampo::cli
