#pragma once

#include "audio/peaks.h"
#include "document/numbered_work.h"
#include "kit/kit_check.h"
#include "pipeline/analyses.h"

namespace lampo {

/// Reads audio off the window's thread: waveforms first, then candidates. One job at a time; a new one replaces the
/// old, and what the old one finished is kept.
class BackgroundWork : public NumberedWork {
    Q_OBJECT
public:
    explicit BackgroundWork(QObject* parent = nullptr);
    ~BackgroundWork() override;

    /// What is to be done: the peaks of `waves` and the analyses that `known` lacks for `session`.
    struct Job {
        Session session;
        Analyses known;
        std::vector<SourceFile> waves;
        bool checkKit = false;             ///< compare the files with each other once all were analysed
        std::filesystem::path cacheFolder; ///< of candidates; empty: none are kept
    };
    void start(Job job);
    void stop();
    bool busy() const { return busy_; }

signals:
    /// 0 to 1, with what is being done.
    void progressed(double fraction, const QString& what);
    void peaksReady(const lampo::SourceFile& source, std::shared_ptr<const lampo::Peaks> peaks);
    void analysesReady(const lampo::Analyses& analyses);
    void kitChecked(const std::vector<lampo::KitCheck>& checks);
    void failed(const QString& sentence);
    void finished();

private:
    void run(Job job, const std::stop_token& stop, int number);
    void buildPeaks(const Job& job, const std::stop_token& stop, int number);
    void tell(int number, const Error& error);

    bool busy_ = false;
    QString told_;
};

} // namespace lampo
