#include "stop_signals.h"

#include <csignal>
#include <pthread.h>

namespace lampo::cli {
namespace {

constexpr int leave = SIGUSR1; // to the waiting thread itself

sigset_t awaited() {
    sigset_t signals;
    sigemptyset(&signals);
    for (const int signal : {SIGINT, SIGTERM, SIGHUP, leave})
        sigaddset(&signals, signal);
    return signals;
}

} // namespace

StopSignals::StopSignals() {
    const sigset_t signals = awaited();
    pthread_sigmask(SIG_BLOCK, &signals, nullptr); // threads made from now on inherit this
    waiting_ = std::thread([this, signals] {
        int signal = 0;
        while (sigwait(&signals, &signal) == 0 && signal != leave) {
            if (received_.exchange(signal) != 0)
                std::_Exit(128 + signal); // as shells have it
            stop_.request_stop();
        }
    });
}

StopSignals::~StopSignals() {
    pthread_kill(waiting_.native_handle(), leave);
    waiting_.join();
}

} // namespace lampo::cli
