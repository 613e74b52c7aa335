#include "document/background_work.h"

#include "base/parallel.h"

#include <atomic>
#include <utility>

namespace lampo {

BackgroundWork::BackgroundWork(QObject* parent) : NumberedWork(parent) {}

BackgroundWork::~BackgroundWork() {
    stop();
}

void BackgroundWork::stop() {
    endJob();
    busy_ = false;
}

void BackgroundWork::start(Job job) {
    busy_ = true;
    told_.clear();
    startJob([this, job = std::move(job)](const std::stop_token& stop, int number) { run(job, stop, number); });
}

/// A file that cannot be drawn cannot be analysed either; that is told once.
void BackgroundWork::tell(int number, const Error& error) {
    post(number, [this, text = QString::fromStdString(error.sentence)] {
        if (std::exchange(told_, text) != text)
            emit failed(text);
    });
}

void BackgroundWork::run(Job job, const std::stop_token& stop, int number) {
    buildPeaks(job, stop, number);
    if (!stop.stop_requested() && !job.known.missing(job.session, Listen::toEveryMic).empty()) {
        const Progress progress{[&](double fraction) {
                                    post(number,
                                         [=, this] { emit progressed(fraction, tr("Listening for hits")); });
                                },
                                stop};
        const auto analysed = analyseMissing(job.session, job.known, Listen::toEveryMic, progress, job.cacheFolder);
        post(number, [this, known = job.known] { emit analysesReady(known); });
        if (!analysed && analysed.error().kind != ErrorKind::cancelled)
            tell(number, analysed.error());
    }
    if (job.checkKit && !stop.stop_requested()) {
        std::vector<KitCheck> checks;
        for (TakeIndex take; take < job.session.takes.size() && !stop.stop_requested(); ++take)
            checks.push_back(lampo::checkKit(job.session, take, job.known, {{}, stop}));
        post(number, [this, checks] { emit kitChecked(checks); });
    }
    post(number, [this] {
        busy_ = false;
        emit finished();
    });
}

void BackgroundWork::buildPeaks(const Job& job, const std::stop_token& stop, int number) {
    std::atomic<std::size_t> done{0};
    forEachIndex(job.waves.size(), [&](std::size_t i) {
        const SourceFile& source = job.waves[i];
        auto peaks = AudioReader::open(source, job.session.rate).and_then([&](AudioReader reader) {
            return Peaks::build(reader, {{}, stop});
        });
        const double fraction = static_cast<double>(++done) / static_cast<double>(job.waves.size());
        post(number, [=, this] { emit progressed(fraction, tr("Drawing waveforms")); });
        if (peaks)
            post(number, [this, source, shared = std::make_shared<const Peaks>(std::move(*peaks))] {
                emit peaksReady(source, shared);
            });
        else if (peaks.error().kind != ErrorKind::cancelled)
            tell(number, peaks.error());
    });
}

} // namespace lampo
