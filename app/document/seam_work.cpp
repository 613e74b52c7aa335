#include "document/seam_work.h"

#include "pipeline/seam_cache.h"
#include "seam_search/seam_search.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr std::chrono::milliseconds patience{150}; ///< after an edit
constexpr std::size_t atOnce = 128;                ///< seams that are told together

} // namespace

SeamWork::SeamWork(QObject* parent) : DelayedWork(patience, parent) {}

SeamWork::~SeamWork() {
    endJob();
}

void SeamWork::start(Job job) {
    const auto isAsked = [&](const SeamQuestion& question) { return asked_.contains(question.key); };
    if (std::all_of(job.questions.begin(), job.questions.end(), isAsked))
        return;
    forgetQuestions();
    underWay_ = job.questions;
    for (const SeamQuestion& question : underWay_)
        asked_.insert(question.key);
    const bool readCache = !job.cacheFolder.empty() && std::exchange(read_, job.cacheFolder) != job.cacheFolder;
    setRunning(true);
    startJob([this, job = std::move(job), readCache](const std::stop_token& stop, int number) {
        run(job, readCache, stop, number);
    });
}

void SeamWork::stop() {
    notSoon();
    endJob();
    setRunning(false);
    asked_.clear();
    underWay_.clear();
    read_.clear();
    showBusy();
}

/// What was asked for and is not answered may be asked for again.
void SeamWork::forgetQuestions() {
    for (const SeamQuestion& question : underWay_)
        asked_.erase(question.key);
}

void SeamWork::run(const Job& job, bool readCache, const std::stop_token& stop, int number) {
    SeamAnswers known = job.known;
    if (readCache)
        known.merge(readSeams(job.cacheFolder));
    std::vector<SeamQuestion> open;
    for (const SeamQuestion& question : job.questions)
        if (!known.of(question.key))
            open.push_back(question);
    if (open.size() < job.questions.size())
        post(number, [this, known] { emit found(known); });
    for (std::size_t at = 0; at < open.size() && !stop.stop_requested(); at += atOnce) {
        SeamAnswers answers;
        // What cannot be read is told by those who draw and listen; its seams lie by the rule.
        (void)searchSeams(job.session, std::span(open).subspan(at, std::min(atOnce, open.size() - at)), answers,
                          {{}, stop});
        known.merge(answers);
        post(number, [this, answers] { emit found(answers); });
    }
    if (!stop.stop_requested() && !open.empty() && !job.cacheFolder.empty())
        (void)writeSeams(job.cacheFolder, known); // a cache that cannot be written is no trouble
    post(number, [this] {
        underWay_.clear(); // what is not answered now cannot be read, and is not asked for again
        setRunning(false);
        showBusy();
    });
}

} // namespace lampo
