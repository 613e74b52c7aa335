#include "document/background_work.h"

#include "base/parallel.h"

#include <atomic>

namespace lampo {

BackgroundWork::BackgroundWork(QObject* parent) : QObject(parent) {}

BackgroundWork::~BackgroundWork() {
    stop();
}

void BackgroundWork::stop() {
    ++job_; // what was posted by the old job and has not arrived is no longer wanted
    busy_ = false;
    if (thread_.joinable()) {
        thread_.request_stop();
        thread_.join();
    }
}

void BackgroundWork::start(Session session, Analyses known, std::vector<std::filesystem::path> files) {
    stop();
    busy_ = true;
    thread_ = std::jthread([this, session = std::move(session), known = std::move(known), files = std::move(files),
                            job = job_](const std::stop_token& token) { run(session, known, files, token, job); });
}

template <class Call>
void BackgroundWork::post(int job, Call&& call) {
    QMetaObject::invokeMethod(
        this,
        [this, job, call = std::forward<Call>(call)] {
            if (job == job_)
                call();
        },
        Qt::QueuedConnection);
}

void BackgroundWork::run(const Session& session, Analyses known, const std::vector<std::filesystem::path>& files,
                         const std::stop_token& stop, int job) {
    buildPeaks(files, stop, job);
    if (!stop.stop_requested() && !known.missing(session).empty()) {
        const Progress progress{
            [&](double fraction) { post(job, [=, this] { emit progressed(fraction, tr("Listening for hits")); }); },
            stop};
        const auto analysed = analyseMissing(session, known, progress);
        post(job, [this, known] { emit analysesReady(known); });
        if (!analysed && analysed.error().kind != ErrorKind::cancelled)
            post(job, [this, text = QString::fromStdString(analysed.error().sentence)] { emit failed(text); });
    }
    post(job, [this] {
        busy_ = false;
        emit finished();
    });
}

void BackgroundWork::buildPeaks(const std::vector<std::filesystem::path>& files, const std::stop_token& stop,
                                int job) {
    std::atomic<std::size_t> done{0};
    forEachIndex(files.size(), [&](std::size_t i) {
        auto peaks = AudioReader::open(files[i]).and_then([&](AudioReader reader) {
            return Peaks::build(reader, {{}, stop});
        });
        const double fraction = static_cast<double>(++done) / static_cast<double>(files.size());
        post(job, [=, this] { emit progressed(fraction, tr("Drawing waveforms")); });
        if (peaks)
            post(job, [this, file = files[i], shared = std::make_shared<const Peaks>(std::move(*peaks))] {
                emit peaksReady(file, shared);
            });
        else if (peaks.error().kind != ErrorKind::cancelled)
            post(job, [this, text = QString::fromStdString(peaks.error().sentence)] { emit failed(text); });
    });
}

} // namespace lampo
