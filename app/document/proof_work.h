#pragma once

#include "document/numbered_work.h"
#include "proof/proof.h"

#include <QTimer>

#include <thread>

namespace lampo {

/// A proof, and the edit that it speaks of: places are indices into its outcome.
struct HeardProof {
    std::shared_ptr<const Outcome> outcome; ///< null: nothing was listened to yet
    Proof proof;
};

/// Listens to the edit behind the window, a moment after the last change of it. What was heard before and did not
/// change is not listened to again.
class ProofWork : public NumberedWork {
    Q_OBJECT
public:
    explicit ProofWork(QObject* parent = nullptr);
    ~ProofWork() override;

    /// The edit changed: wanted() asks for it when no other change has come for a moment.
    void soon();
    /// Gives way to what is asked for now.
    void start(const Session& session, std::shared_ptr<const Outcome> outcome);
    /// Forgets what was heard of this song.
    void stop();
    /// Whether it listens, or is about to.
    bool busy() const { return busy_; }
    /// 0 to 1, while it listens.
    double progress() const { return progress_; }

signals:
    void wanted();
    void heard(const lampo::HeardProof& proof);
    /// busy() or progress() changed.
    void progressed();

private:
    void halt();
    void showBusy();

    QTimer soon_;
    std::shared_ptr<ProofMemory> memory_ = std::make_shared<ProofMemory>();
    std::jthread thread_;
    bool listening_ = false;
    bool busy_ = false;
    double progress_ = 0;
};

} // namespace lampo
