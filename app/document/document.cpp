#include "document/document.h"

#include "advice/ungrouped.h"
#include "base/file_set.h"
#include "pipeline/candidate_cache.h"
#include "project/earlier_saves.h"
#include "project/project_file.h"
#include "session/recording_files.h"

#include <QCryptographicHash>
#include <QFile>
#include <QUndoCommand>

#include <algorithm>

namespace lampo {

/// The one undo command: the session before and after, shared with the journal and with the steps beside it.
class SessionCommand : public QUndoCommand {
public:
    SessionCommand(Document& document, std::shared_ptr<const HistoryStep> before,
                   std::shared_ptr<const HistoryStep> step, int gesture)
        : QUndoCommand(QString::fromStdString(step->label)), document_(document), before_(std::move(before)),
          step_(std::move(step)), gesture_(gesture) {}

    const Session& before() const { return before_->after; }
    const std::shared_ptr<const HistoryStep>& step() const { return step_; }
    int id() const override { return gesture_ == 0 ? -1 : gesture_; }
    bool mergeWith(const QUndoCommand* other) override {
        step_ = static_cast<const SessionCommand*>(other)->step_;
        setText(other->text());
        setObsolete(step_->after == before_->after);
        return true;
    }
    void undo() override { document_.setSession(before_->after); }
    void redo() override { document_.setSession(step_->after); }

private:
    Document& document_;
    std::shared_ptr<const HistoryStep> before_, step_;
    int gesture_;
};

namespace {

std::shared_ptr<const HistoryStep> stepTo(Session session, std::string label) {
    return std::make_shared<const HistoryStep>(HistoryStep{std::move(label), std::move(session)});
}

/// Empty when there is no such file.
std::string hashOf(const std::filesystem::path& file) {
    QFile in(QString::fromStdString(file.string()));
    QCryptographicHash hash(QCryptographicHash::Sha256);
    return in.open(QIODevice::ReadOnly) && hash.addData(&in) ? hash.result().toStdString() : std::string();
}

} // namespace

Document::Document(QObject* parent) : QObject(parent), outcome_(outcomeOf(session_, analyses_)) {
    connect(&work_, &BackgroundWork::peaksReady, this, [this](const auto& source, const auto& peaks) {
        waves_.insert_or_assign(source, WaveSource(source, session_.rate, peaks));
        emit wavesChanged();
    });
    connect(&work_, &BackgroundWork::analysesReady, this, [this](const Analyses& analyses) {
        analyses_.merge(analyses);
        recompute();
    });
    connect(&work_, &BackgroundWork::kitChecked, this, [this](const std::vector<KitCheck>& checks) {
        kitChecks_ = checks;
        emit kitChecked();
    });
    connect(&work_, &BackgroundWork::failed, this, [this](const QString& sentence) {
        const auto told = [&](const SourceProblem& problem) {
            return problem.error.sentence == sentence.toStdString();
        };
        if (std::none_of(sourceProblems_.begin(), sourceProblems_.end(), told))
            emit notified(sentence);
    });
    connect(&seamWork_, &SeamWork::wanted, this, [this] {
        if (const auto& open = outcome_->plan->open; !open.empty())
            seamWork_.start({session_, open, analyses_.seams(), cacheFolder()});
    });
    connect(&seamWork_, &SeamWork::found, this, [this](const SeamAnswers& answers) {
        analyses_.add(answers);
        recompute();
    });
    connect(&proofWork_, &ProofWork::wanted, this, [this] {
        // Seams that are about to be placed elsewhere, and hits that are still looked for, are heard then.
        if (session_.empty() || work_.busy())
            return;
        proofWork_.start(session_, outcome_);
    });
    connect(&proofWork_, &ProofWork::heard, this, [this](const HeardProof& heard) {
        proof_ = heard;
        answerProof();
    });
    connect(&proofWork_, &ProofWork::progressed, this, &Document::proofProgressed);
    connect(&work_, &BackgroundWork::finished, &proofWork_, &ProofWork::soon);
    connect(&history_, &QUndoStack::cleanChanged, this, &Document::fileChanged);
    connect(&history_, &QUndoStack::indexChanged, this, &Document::noteHistory);
    connect(&journal_, &JournalKeeper::notified, this, &Document::notified);
}

/// A history that goes is no edit.
Document::~Document() {
    history_.disconnect(this);
}

ProtectedFiles Document::protectedFiles() const {
    ProtectedFiles files = recordingFiles(session_);
    files.add(file_, "the project");
    return files;
}

WaveSource* Document::wave(const SourceFile& source) {
    const auto found = waves_.find(source);
    return found == waves_.end() ? nullptr : &found->second;
}

int Document::newGesture() {
    static int last = 0;
    return ++last;
}

void Document::editOnly(std::vector<std::string> stems) {
    if (std::exchange(only_, std::move(stems)) != only_)
        emit onlyChanged();
}

bool Document::performOnly(const Edit& edit, int gesture) {
    if (gesture == 0 || onlyFrom_.gesture != gesture)
        onlyFrom_ = {gesture, session_, outcome_};
    const auto patches = onMicsAlone(onlyFrom_.session, analyses_, *onlyFrom_.outcome, only_, edit);
    const auto next = patches.and_then([&](const PatchEdit& one) { return edited(onlyFrom_.session, one); });
    if (!next) {
        emit refused(QString::fromStdString(next.error().sentence));
        return false;
    }
    if (*next != session_)
        push(stepTo(*next, describe(onlyFrom_.session, *patches)), gesture);
    return true;
}

bool Document::perform(const Edit& edit, int gesture) {
    if (!only_.empty() && editsHitsOrSeams(edit))
        return performOnly(edit, gesture);
    const auto next = edited(session_, edit);
    if (!next) {
        emit refused(QString::fromStdString(next.error().sentence));
        return false;
    }
    if (*next != session_)
        push(stepTo(*next, describe(session_, edit)), gesture);
    return true;
}

void Document::push(std::shared_ptr<const HistoryStep> step, int gesture) {
    const auto* last = static_cast<const SessionCommand*>(history_.command(history_.index() - 1));
    history_.push(new SessionCommand(*this, last ? last->step() : stepTo(session_, {}), std::move(step), gesture));
    noteHistory(); // steps that merge leave the index as it was
}

/// A step back that merges with the gesture's own leaves nothing in the history.
void Document::dropGesture(int gesture) {
    const auto* last = static_cast<const SessionCommand*>(history_.command(history_.index() - 1));
    if (last && last->id() == gesture)
        push(stepTo(last->before(), {}), gesture);
}

HistoryState Document::historyState() const {
    HistoryState history{{}, static_cast<std::size_t>(history_.index()), {}};
    for (int step = 0; step < history_.count(); ++step)
        history.steps.push_back(static_cast<const SessionCommand*>(history_.command(step))->step());
    if (!neverSaved_ && history_.cleanIndex() >= 0)
        history.saved = static_cast<std::size_t>(history_.cleanIndex());
    return history;
}

void Document::noteHistory() {
    if (!beginning_)
        journal_.note(historyState());
}

/// The journal of unsaved work that was set aside for this one, if there was any.
std::optional<std::filesystem::path> Document::beginJournal() {
    const auto* first = static_cast<const SessionCommand*>(history_.command(0));
    auto aside = journal_.begin(file_, first ? first->before() : session_);
    noteHistory();
    return aside;
}

void Document::setSession(const Session& session) {
    const bool answered = session_.proofAnswers != session.proofAnswers;
    session_ = session;
    recompute();
    if (answered)
        answerProof();
    fetchMissing();
}

void Document::answerProof() {
    answerPlaces(proof_.proof.places, session_);
    countPlaces(proof_.proof.summary, proof_.proof.places);
    emit proofChanged();
}

void Document::recompute() {
    outcome_ = outcomeOf(session_, analyses_, outcome_.get());
    emit changed();
    if (!session_.empty())
        proofWork_.soon();
    if (!outcome_->plan->open.empty())
        seamWork_.soon();
}

std::filesystem::path Document::cacheFolder() const {
    return file_.empty() ? std::filesystem::path{} : cacheFolderOf(file_);
}

void Document::fetchMissing() {
    std::vector<SourceFile> waves;
    const auto want = [&](const SourceFile& source) {
        if (!source.empty() && !waves_.contains(source))
            waves.push_back(source);
    };
    std::vector<SharedList<SourceFile>> takes;
    for (const Take& take : session_.takes) {
        takes.push_back(take.files);
        for (const SourceFile& source : take.files)
            want(source);
    }
    for (const Companion& companion : session_.companions)
        want(companion.file);
    std::sort(waves.begin(), waves.end());
    auto keys = analyses_.missing(session_, Listen::toEveryMic);
    std::sort(keys.begin(), keys.end());
    // An edit made while its work is being done does not begin that work anew.
    const bool underWay = work_.busy() &&
                          std::includes(wavesUnderWay_.begin(), wavesUnderWay_.end(), waves.begin(), waves.end()) &&
                          std::includes(keysUnderWay_.begin(), keysUnderWay_.end(), keys.begin(), keys.end());
    const bool check = checked_ != takes;
    if (underWay || (waves.empty() && keys.empty() && !check))
        return;
    checked_ = std::move(takes);
    wavesUnderWay_ = waves;
    keysUnderWay_ = keys;
    work_.start({session_, analyses_, std::move(waves), check || !keys.empty(), cacheFolder()});
}

Expected<void> Document::open(const std::filesystem::path& input) {
    const bool project = isProject(input);
    auto session = project ? loadProject(input).map(fingerprinted) : openInput(input);
    if (!session)
        return tl::unexpected(session.error());
    begin(*session, project ? std::filesystem::absolute(input) : std::filesystem::path{});
    return {};
}

void Document::recheckSources() {
    sourceProblems_ = checkSources(session_);
}

void Document::adopt(const Session& session) {
    begin(session, {});
}

void Document::begin(const Session& session, const std::filesystem::path& file) {
    restart(session, file);
    beginJournal();
}

void Document::restart(const Session& session, const std::filesystem::path& file) {
    beginning_ = true;
    editOnly({});
    work_.stop();
    seamWork_.stop();
    proofWork_.stop();
    proof_ = {};
    emit proofChanged();
    waves_.clear();
    analyses_ = {};
    kitChecks_.clear();
    checked_.clear();
    file_ = file;
    onDisk_ = file.empty() ? std::string() : hashOf(file);
    neverSaved_ = file.empty();
    sourceProblems_ = checkSources(session);
    history_.clear();
    for (const Version& version : session.versions) // prints that were killed while their files were named
        if (!version.print.empty())
            finishInterrupted(version.print);
    setSession(session);
    beginning_ = false;
    emit fileChanged();
}

void Document::recover(const JournalContent& content, const std::filesystem::path& journal) {
    restart(content.base, content.project);
    beginning_ = true;
    for (const auto& step : content.history.steps)
        push(step, 0);
    if (content.history.saved) {
        history_.setIndex(static_cast<int>(*content.history.saved));
        history_.setClean();
    } else {
        history_.resetClean();
    }
    history_.setIndex(static_cast<int>(content.history.done));
    beginning_ = false;
    auto aside = beginJournal();
    journal_.flush();
    std::error_code ignored;
    std::filesystem::remove(aside.value_or(journal), ignored); // all of it is in the new one
    emit fileChanged();
}

Expected<void> Document::save(const std::filesystem::path& file, bool over) {
    const std::filesystem::path whole = std::filesystem::absolute(file);
    if (!over && whole == file_ && hashOf(file_) != onDisk_)
        return fail(ErrorKind::changedOnDisk,
                    quotedName(file_) + " was changed on the disk since it was opened here, by another window or "
                                        "another machine");
    if (const auto kept = keepEarlierSave(whole, savesOf(whole)); !kept)
        emit notified(QString::fromStdString(kept.error().sentence));
    if (auto saved = saveProject(session_, whole); !saved)
        return saved;
    const bool renamed = whole != file_;
    file_ = whole;
    onDisk_ = hashOf(file_);
    neverSaved_ = false;
    history_.setClean();
    if (renamed)
        beginJournal();
    noteHistory();
    emit fileChanged();
    return {};
}

void Document::close() {
    work_.stop();
    seamWork_.stop();
    proofWork_.stop();
}

} // namespace lampo
