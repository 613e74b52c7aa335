#pragma once

#include "document/delayed_work.h"
#include "proof/proof.h"

#include <memory>

namespace lampo {

/// A proof, and the edit that it speaks of: places are indices into its outcome.
struct HeardProof {
    std::shared_ptr<const Outcome> outcome; ///< null: nothing was listened to yet
    Proof proof;
};

/// Listens to the edit behind the window, a moment after the last change of it. What was heard before and did not
/// change is not listened to again.
class ProofWork : public DelayedWork {
    Q_OBJECT
public:
    explicit ProofWork(QObject* parent = nullptr);
    ~ProofWork() override;

    /// The edit changed: what is heard now is out of date.
    void soon() override;
    /// Gives way to what is asked for now.
    void start(const Session& session, std::shared_ptr<const Outcome> outcome);
    /// Forgets what was heard of this song.
    void stop();
    /// 0 to 1, while it listens.
    double progress() const { return progress_; }

signals:
    void heard(const lampo::HeardProof& proof);
    /// busy() or progress() changed.
    void progressed();

private:
    std::shared_ptr<ProofMemory> memory_ = std::make_shared<ProofMemory>();
    double progress_ = 0;
};

} // namespace lampo
