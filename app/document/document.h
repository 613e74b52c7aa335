#pragma once

#include "base/protected_files.h"
#include "document/background_work.h"
#include "document/journal_keeper.h"
#include "document/proof_work.h"
#include "document/seam_work.h"
#include "document/wave_source.h"
#include "edits/edit.h"
#include "import/source_search.h"
#include "pipeline/outcome.h"

#include <QObject>
#include <QUndoStack>

#include <map>
#include <optional>

namespace lampo {

/// The open project: the current session, what follows from it, its history, and its files' waveforms. Window's
/// thread only; long work is done behind it and arrives as signals.
class Document : public QObject {
    Q_OBJECT
public:
    explicit Document(QObject* parent = nullptr);
    ~Document() override;

    const Session& session() const { return session_; }
    const Outcome& outcome() const { return *outcome_; }
    std::shared_ptr<const Outcome> sharedOutcome() const { return outcome_; }
    const Analyses& analyses() const { return analyses_; }
    /// What the files of each take say about the kit; empty until they were compared.
    const std::vector<KitCheck>& kitChecks() const { return kitChecks_; }
    QUndoStack& history() { return history_; }
    BackgroundWork& work() { return work_; }
    const SeamWork& seamWork() const { return seamWork_; }
    const ProofWork& proofWork() const { return proofWork_; }
    /// What was heard of the edit last, with what the user says of it now. Its places are indices into its own
    /// outcome; null outcome: nothing yet.
    const HeardProof& proof() const { return proof_; }
    /// Whether that is the edit as it is now.
    bool proofIsOfNow() const { return proof_.outcome == outcome_; }
    /// Null until the waveform was read.
    WaveSource* wave(const SourceFile& source);

    std::filesystem::path file() const { return file_; }
    /// What nothing else may be written over: the recording, and the project's own file.
    ProtectedFiles protectedFiles() const;
    bool modified() const { return !history_.isClean() || neverSaved_; }

    /// Applies an edit as one undoable step. Edits of one gesture (a drag, typing in one field) that set the same
    /// thing become one step; gesture 0 never merges. A refused edit changes nothing and is told by refused().
    bool perform(const Edit& edit, int gesture = 0);
    static int newGesture();
    /// While mics are given, edits of hits and seams are done to them alone, as patches.
    void editOnly(std::vector<std::string> stems);
    /// Of edits that each add to what is there: on some mics only, each is a step of its own.
    int addingGesture(int gesture) const { return only_.empty() ? gesture : 0; }
    /// Those; empty: the whole kit.
    const std::vector<std::string>& editedOnly() const { return only_; }
    /// Takes back what a gesture did so far, as if it had never been.
    void dropGesture(int gesture);

    /// A folder of one take, or a project, whose files may lie elsewhere (see sourceProblems). On failure the open
    /// project stays as it is.
    Expected<void> open(const std::filesystem::path& input);
    /// A new session that has no file yet.
    void adopt(const Session& session);
    /// What a journal kept of work that was not saved, with its history.
    void recover(const JournalContent& content, const std::filesystem::path& journal);
    /// Errors: those of saveProject; changedOnDisk, when the project's own file is no longer what was opened or
    /// saved last and `over` does not say to go over it.
    Expected<void> save(const std::filesystem::path& file, bool over = false);
    /// All that was done is in the journal when this returns.
    void flushJournal() { journal_.flush(); }
    /// What is not saved is given up on purpose.
    void giveUp() { journal_.end(); }
    /// Files of the recording that were not what they are known as when they were looked at last: at opening, and
    /// by recheckSources().
    const std::vector<SourceProblem>& sourceProblems() const { return sourceProblems_; }
    void recheckSources();
    /// Stops long work and waits for it.
    void close();

signals:
    void changed();      ///< session or outcome
    void wavesChanged(); ///< a waveform arrived
    void kitChecked();
    void proofChanged();    ///< places or answers
    void proofProgressed(); ///< whether it is listened to, and how far
    void fileChanged();     ///< name or modified mark
    void onlyChanged();     ///< what edits are done to
    void refused(const QString& sentence);
    void notified(const QString& sentence);

private:
    friend class SessionCommand;
    void begin(const Session& session, const std::filesystem::path& file);
    void restart(const Session& session, const std::filesystem::path& file);
    void push(std::shared_ptr<const HistoryStep> step, int gesture);
    bool performOnly(const Edit& edit, int gesture);
    HistoryState historyState() const;
    void noteHistory();
    std::optional<std::filesystem::path> beginJournal();
    void setSession(const Session& session);
    void recompute();
    void answerProof();
    void fetchMissing();
    std::filesystem::path cacheFolder() const;

    Session session_;
    Analyses analyses_;
    std::vector<KitCheck> kitChecks_;
    std::vector<SourceProblem> sourceProblems_;
    std::vector<SharedList<SourceFile>> checked_; ///< the takes' files that kitChecks_ speak of
    std::shared_ptr<const Outcome> outcome_;
    std::map<SourceFile, WaveSource> waves_;
    QUndoStack history_;
    BackgroundWork work_;
    SeamWork seamWork_;
    ProofWork proofWork_;
    HeardProof proof_;
    std::vector<SourceFile> wavesUnderWay_; ///< sorted
    std::vector<AnalysisKey> keysUnderWay_; ///< sorted
    std::filesystem::path file_;
    std::string onDisk_; ///< the project's file as it was opened or saved last, as a hash
    bool neverSaved_ = false;
    std::vector<std::string> only_;
    /// What the gesture of an edit on some mics began with: each of its steps says all that it does.
    struct {
        int gesture = 0;
        Session session;
        std::shared_ptr<const Outcome> outcome;
    } onlyFrom_;
    bool beginning_ = false; ///< the history is being made: nothing is noted
    JournalKeeper journal_;
};

} // namespace lampo
