#pragma once

#include "project/journal.h"

#include <QObject>
#include <QTimer>

#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

namespace lampo {

/// Where what a program remembers between two runs belongs: $XDG_STATE_HOME/lampo, else ~/.local/state/lampo.
std::filesystem::path stateFolder();
/// The journal of a project; of one that was never saved, a new name each time.
std::filesystem::path journalOf(const std::filesystem::path& project);
/// Where what a project's saves went over is kept.
std::filesystem::path savesOf(const std::filesystem::path& project);
/// Journals that a crash left, the newest first.
std::vector<std::filesystem::path> leftJournals();

/// Keeps the journal of the open project: what is noted is on the disk two seconds later at most. Writing is done
/// behind the window, whose thread only hands the history over.
class JournalKeeper : public QObject {
    Q_OBJECT
public:
    explicit JournalKeeper(QObject* parent = nullptr);
    ~JournalKeeper() override; ///< leaves the journal of what is not saved

    /// The journal of what is open now begins; that of what was open ends. What a crash left of the project's own
    /// is set aside under another name, which is returned.
    std::optional<std::filesystem::path> begin(const std::filesystem::path& project, const Session& base);
    /// The history as it is now.
    void note(HistoryState history);
    /// What was noted is on the disk when this returns.
    void flush();
    /// The work is saved, or given up on purpose.
    void end();

signals:
    void notified(const QString& sentence);

private:
    void hand(bool wait);
    void run(const std::stop_token& stop);

    QTimer soon_;
    std::mutex guard_;
    std::condition_variable_any change_;
    std::optional<Journal> journal_; ///< under the guard, as all that follows
    std::optional<HistoryState> wanted_;
    bool busy_ = false;
    bool told_ = false;   ///< that it cannot be written
    HistoryState noted_;  ///< window's thread
    std::jthread writer_; ///< last, so that it ends first
};

} // namespace lampo
