#include "document/document.h"

#include "chain/candidate_cache.h"
#include "project/project_file.h"

#include <QUndoCommand>

#include <algorithm>

namespace lampo {

/// The one undo command: the session before and after.
class SessionCommand : public QUndoCommand {
public:
    SessionCommand(Document& document, Session before, Session after, int gesture, const QString& text)
        : QUndoCommand(text), document_(document), before_(std::move(before)), after_(std::move(after)),
          gesture_(gesture) {}

    const Session& before() const { return before_; }
    int id() const override { return gesture_ == 0 ? -1 : gesture_; }
    bool mergeWith(const QUndoCommand* other) override {
        after_ = static_cast<const SessionCommand*>(other)->after_;
        setText(other->text());
        setObsolete(after_ == before_);
        return true;
    }
    void undo() override { document_.setSession(before_); }
    void redo() override { document_.setSession(after_); }

private:
    Document& document_;
    Session before_;
    Session after_;
    int gesture_;
};

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
    connect(&work_, &BackgroundWork::failed, this, &Document::troubled);
    connect(&history_, &QUndoStack::cleanChanged, this, &Document::fileChanged);
}

WaveSource* Document::wave(const SourceFile& source) {
    const auto found = waves_.find(source);
    return found == waves_.end() ? nullptr : &found->second;
}

int Document::newGesture() {
    static int last = 0;
    return ++last;
}

bool Document::perform(const Edit& edit, int gesture) {
    const auto next = edited(session_, edit);
    if (!next) {
        emit refused(QString::fromStdString(next.error().sentence));
        return false;
    }
    if (*next != session_)
        history_.push(
            new SessionCommand(*this, session_, *next, gesture, QString::fromStdString(describe(session_, edit))));
    return true;
}

/// A step back that merges with the gesture's own leaves nothing in the history.
void Document::dropGesture(int gesture) {
    const auto* last = static_cast<const SessionCommand*>(history_.command(history_.index() - 1));
    if (last && last->id() == gesture)
        history_.push(new SessionCommand(*this, session_, last->before(), gesture, {}));
}

void Document::setSession(const Session& session) {
    session_ = session;
    recompute();
    fetchMissing();
}

void Document::recompute() {
    outcome_ = outcomeOf(session_, analyses_, outcome_.get());
    emit changed();
}

void Document::fetchMissing() {
    std::vector<SourceFile> waves;
    const auto want = [&](const SourceFile& source) {
        if (!source.empty() && !waves_.contains(source))
            waves.push_back(source);
    };
    std::vector<std::vector<SourceFile>> takes;
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
    work_.start({session_, analyses_, std::move(waves), check || !keys.empty(),
                 file_.empty() ? std::filesystem::path{} : cacheFolderOf(file_)});
}

Expected<void> Document::open(const std::filesystem::path& input) {
    auto session = openInput(input);
    if (!session)
        return tl::unexpected(session.error());
    const bool project = input.extension() == ".lampo";
    begin(*session, project ? std::filesystem::absolute(input) : std::filesystem::path{});
    return {};
}

void Document::adopt(const Session& session) {
    begin(session, {});
}

void Document::begin(const Session& session, const std::filesystem::path& file) {
    work_.stop();
    waves_.clear();
    analyses_ = {};
    kitChecks_.clear();
    checked_.clear();
    file_ = file;
    neverSaved_ = file.empty();
    history_.clear();
    setSession(session);
    emit fileChanged();
}

Expected<void> Document::save(const std::filesystem::path& file) {
    if (auto saved = saveProject(session_, file); !saved)
        return saved;
    file_ = std::filesystem::absolute(file);
    neverSaved_ = false;
    history_.setClean();
    emit fileChanged();
    return {};
}

void Document::close() {
    work_.stop();
}

} // namespace lampo
