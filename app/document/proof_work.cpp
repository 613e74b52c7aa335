#include "document/proof_work.h"

#include <cmath>

namespace lampo {
namespace {

constexpr int patience = 400; ///< ms after an edit

} // namespace

ProofWork::ProofWork(QObject* parent) : NumberedWork(parent) {
    soon_.setSingleShot(true);
    soon_.setInterval(patience);
    connect(&soon_, &QTimer::timeout, this, [this] {
        emit wanted();
        showBusy();
    });
}

ProofWork::~ProofWork() {
    halt();
}

/// A drag is not waited for: who listens to what is no more is only told to end.
void ProofWork::soon() {
    forgetJob();
    thread_.request_stop();
    listening_ = false;
    progress_ = 0;
    soon_.start();
    showBusy();
}

void ProofWork::start(const Session& session, std::shared_ptr<const Outcome> outcome) {
    forgetJob();
    thread_.request_stop();
    listening_ = true;
    progress_ = 0;
    // Who listens still is waited for by who listens next, not by the window.
    thread_ = std::jthread([this, before = std::make_shared<std::jthread>(std::move(thread_)), session,
                            outcome = std::move(outcome), memory = memory_,
                            number = number()](const std::stop_token& stop) {
        if (before->joinable())
            before->join();
        if (stop.stop_requested())
            return;
        std::atomic<int> told = 0;
        const Progress progress{[&](double fraction) {
                                    const int percent = static_cast<int>(fraction * 100);
                                    if (told.exchange(percent) != percent)
                                        post(number, [this, fraction] {
                                            progress_ = fraction;
                                            emit progressed();
                                        });
                                },
                                stop};
        auto proof = proofOf(session, *outcome, *memory, progress);
        // What cannot be read is told by those who draw and listen; the rest is told without its sound.
        if (!proof && !stop.stop_requested())
            proof = Proof{placesWithoutListening(session, *outcome), {}};
        if (proof)
            post(number, [this, heard = HeardProof{outcome, std::move(*proof)}] {
                listening_ = false;
                showBusy();
                emit this->heard(heard);
            });
    });
}

void ProofWork::stop() {
    soon_.stop();
    halt();
    memory_ = std::make_shared<ProofMemory>();
    showBusy();
}

void ProofWork::halt() {
    forgetJob(); // what was posted and has not arrived is no longer wanted
    if (thread_.joinable()) {
        thread_.request_stop();
        thread_.join();
    }
    listening_ = false;
    progress_ = 0;
}

void ProofWork::showBusy() {
    const bool busy = listening_ || soon_.isActive();
    if (std::exchange(busy_, busy) != busy)
        emit progressed();
}

} // namespace lampo
