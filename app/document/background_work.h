#pragma once

#include "audio/peaks.h"
#include "chain/analyses.h"

#include <QObject>

#include <thread>

namespace lampo {

/// Reads audio off the window's thread: waveforms first, then candidates. One job at a time; a new one replaces the
/// old, and what the old one finished is kept.
class BackgroundWork : public QObject {
    Q_OBJECT
public:
    explicit BackgroundWork(QObject* parent = nullptr);
    ~BackgroundWork() override;

    /// Builds the peaks of `files` and the analyses that `known` lacks for `session`.
    void start(Session session, Analyses known, std::vector<std::filesystem::path> files);
    void stop();
    bool busy() const { return busy_; }

signals:
    /// 0 to 1, with what is being done.
    void progressed(double fraction, const QString& what);
    void peaksReady(const std::filesystem::path& file, std::shared_ptr<const lampo::Peaks> peaks);
    void analysesReady(const lampo::Analyses& analyses);
    void failed(const QString& sentence);
    void finished();

private:
    void run(const Session& session, Analyses known, const std::vector<std::filesystem::path>& files,
             const std::stop_token& stop, int job);
    void buildPeaks(const std::vector<std::filesystem::path>& files, const std::stop_token& stop, int job);
    template <class Call>
    void post(int job, Call&& call);

    std::jthread thread_;
    int job_ = 0;
    bool busy_ = false;
};

} // namespace lampo
