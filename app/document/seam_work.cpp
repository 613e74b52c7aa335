#include "document/seam_work.h"

#include "pipeline/seam_cache.h"
#include "seam_search/seam_search.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr int patience = 150;       ///< ms after an edit
constexpr std::size_t atOnce = 128; ///< seams that are told together

} // namespace

SeamWork::SeamWork(QObject* parent) : NumberedWork(parent) {
    soon_.setSingleShot(true);
    soon_.setInterval(patience);
    connect(&soon_, &QTimer::timeout, this, [this] {
        emit wanted();
        showBusy();
    });
}

SeamWork::~SeamWork() {
    halt();
}

void SeamWork::soon() {
    soon_.start();
    showBusy();
}

void SeamWork::start(Job job) {
    const auto isAsked = [&](const SeamQuestion& question) { return asked_.contains(question.key); };
    if (std::all_of(job.questions.begin(), job.questions.end(), isAsked))
        return;
    halt();
    underWay_ = job.questions;
    for (const SeamQuestion& question : underWay_)
        asked_.insert(question.key);
    const bool readCache = !job.cacheFolder.empty() && std::exchange(read_, job.cacheFolder) != job.cacheFolder;
    searching_ = true;
    thread_ = std::jthread([this, job = std::move(job), readCache, number = number()](
                               const std::stop_token& token) { run(job, readCache, token, number); });
}

void SeamWork::stop() {
    soon_.stop();
    halt();
    asked_.clear();
    read_.clear();
    showBusy();
}

/// What was asked for and is not answered may be asked for again.
void SeamWork::halt() {
    forgetJob(); // what was posted and has not arrived is no longer wanted
    if (thread_.joinable()) {
        thread_.request_stop();
        thread_.join();
    }
    for (const SeamQuestion& question : underWay_)
        asked_.erase(question.key);
    underWay_.clear();
    searching_ = false;
}

void SeamWork::showBusy() {
    const bool busy = searching_ || soon_.isActive();
    if (std::exchange(busy_, busy) != busy)
        emit busyChanged();
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
        searching_ = false;
        showBusy();
    });
}

} // namespace lampo
