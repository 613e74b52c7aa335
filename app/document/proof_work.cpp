#include "document/proof_work.h"

#include <atomic>

namespace lampo {
namespace {

constexpr std::chrono::milliseconds patience{400}; ///< after an edit

} // namespace

ProofWork::ProofWork(QObject* parent) : DelayedWork(patience, parent) {
    connect(this, &DelayedWork::busyChanged, this, &ProofWork::progressed);
}

ProofWork::~ProofWork() {
    endJob();
}

void ProofWork::soon() {
    leaveJob(); // a drag does not wait for who listens to what is no more
    setRunning(false);
    progress_ = 0;
    DelayedWork::soon();
}

void ProofWork::start(const Session& session, std::shared_ptr<const Outcome> outcome) {
    setRunning(true);
    progress_ = 0;
    startJob(
        [this, session, outcome = std::move(outcome), memory = memory_](const std::stop_token& stop, int number) {
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
                    setRunning(false);
                    showBusy();
                    emit this->heard(heard);
                });
        });
}

void ProofWork::stop() {
    notSoon();
    endJob();
    setRunning(false);
    progress_ = 0;
    memory_ = std::make_shared<ProofMemory>();
    showBusy();
}

} // namespace lampo
