#pragma once

#include "document/numbered_work.h"
#include "seams/seam_answers.h"
#include "session/session.h"

#include <QTimer>

#include <set>
#include <thread>

namespace lampo {

/// Looks for where seams sound best, behind the window and a moment after the edit that asked for it, so that a
/// dragged slider is not waited for. What was found is kept beside the candidates.
class SeamWork : public NumberedWork {
    Q_OBJECT
public:
    explicit SeamWork(QObject* parent = nullptr);
    ~SeamWork() override;

    struct Job {
        Session session;
        std::vector<SeamQuestion> questions;
        SeamAnswers known;                 ///< is written with what is found
        std::filesystem::path cacheFolder; ///< empty: nothing is kept
    };
    /// Seams are open: wanted() asks for them when no edit has come for a moment.
    void soon();
    /// These are open now. A search that holds all of them goes on; one that does not gives way.
    void start(Job job);
    /// Forgets what it was asked for and what could not be read.
    void stop();
    /// Whether a search is under way or about to begin.
    bool busy() const { return busy_; }

signals:
    void wanted();
    void found(const lampo::SeamAnswers& answers);
    void busyChanged();

private:
    void halt();
    void showBusy();
    void run(const Job& job, bool readCache, const std::stop_token& stop, int number);

    QTimer soon_;
    std::vector<SeamQuestion> underWay_; ///< what the search was begun with
    std::set<SeamKey> asked_;            ///< that, and what could not be read
    std::filesystem::path read_;         ///< the cache that was read
    std::jthread thread_;
    bool searching_ = false;
    bool busy_ = false;
};

} // namespace lampo
