#pragma once

#include "document/delayed_work.h"
#include "seams/seam_answers.h"
#include "session/session.h"

#include <filesystem>
#include <set>
#include <vector>

namespace lampo {

/// Looks for where seams sound best, behind the window and a moment after the edit that asked for it. What was
/// found is kept beside the candidates.
class SeamWork : public DelayedWork {
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
    /// These are open now. A search that holds all of them goes on; one that does not gives way.
    void start(Job job);
    /// Forgets what it was asked for and what could not be read.
    void stop();

signals:
    void found(const lampo::SeamAnswers& answers);

private:
    void forgetQuestions();
    void run(const Job& job, bool readCache, const std::stop_token& stop, int number);

    std::vector<SeamQuestion> underWay_; ///< what the search was begun with
    std::set<SeamKey> asked_;            ///< that, and what could not be read
    std::filesystem::path read_;         ///< the cache that was read
};

} // namespace lampo
