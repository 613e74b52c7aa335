#include "document/journal_keeper.h"

#include <QCryptographicHash>
#include <QDir>
#include <QUuid>

#include <algorithm>

namespace lampo {
namespace {

namespace fs = std::filesystem;
constexpr int soonest = 1000; // ms: what follows fast is one record
constexpr const char* ending = ".journal";

std::string keyOf(const fs::path& project) {
    return QCryptographicHash::hash(QByteArray::fromStdString(fs::absolute(project).string()),
                                    QCryptographicHash::Sha256)
        .toHex()
        .left(32)
        .toStdString();
}

/// Unsaved work that nobody has open is not written over.
std::optional<fs::path> setAside(const fs::path& journal) {
    std::error_code code;
    if (!fs::exists(journal, code) || !isLeft(journal))
        return std::nullopt;
    const auto content = readJournal(journal);
    if (!content || content->history.isSaved() || content->history.steps.empty())
        return std::nullopt;
    const fs::path aside = journalOf({});
    fs::rename(journal, aside, code);
    return code ? std::nullopt : std::optional(aside);
}

} // namespace

fs::path stateFolder() {
    const QString wanted = qEnvironmentVariable("XDG_STATE_HOME");
    const QString base = QDir::isAbsolutePath(wanted) ? wanted : QDir::homePath() + QStringLiteral("/.local/state");
    return fs::path(base.toStdString()) / "lampo";
}

fs::path journalOf(const fs::path& project) {
    const std::string name =
        project.empty() ? QUuid::createUuid().toString(QUuid::Id128).toStdString() : keyOf(project);
    return stateFolder() / "journals" / (name + ending);
}

fs::path savesOf(const fs::path& project) {
    return stateFolder() / "saves" / keyOf(project);
}

std::vector<fs::path> leftJournals() {
    std::vector<fs::path> left;
    std::error_code code;
    for (fs::directory_iterator entry(stateFolder() / "journals", code), end; !code && entry != end;
         entry.increment(code))
        if (entry->path().extension() == ending && isLeft(entry->path()))
            left.push_back(entry->path());
    std::sort(left.begin(), left.end(), [](const fs::path& a, const fs::path& b) {
        std::error_code ignored;
        return fs::last_write_time(a, ignored) > fs::last_write_time(b, ignored);
    });
    return left;
}

JournalKeeper::JournalKeeper(QObject* parent) : QObject(parent) {
    soon_.setSingleShot(true);
    soon_.setInterval(soonest);
    connect(&soon_, &QTimer::timeout, this, [this] { hand(false); });
    writer_ = std::jthread([this](const std::stop_token& stop) { run(stop); });
}

JournalKeeper::~JournalKeeper() {
    if (noted_.isSaved())
        end(); // nothing would be lost
    else
        flush();
}

std::optional<fs::path> JournalKeeper::begin(const fs::path& project, const Session& base) {
    end();
    auto aside = setAside(journalOf(project));
    auto begun = Journal::begin(journalOf(project), project, base);
    if (!begun) { // what is done here is kept all the same
        emit notified(QString::fromStdString(begun.error().sentence));
        begun = Journal::begin(journalOf({}), project, base);
    }
    if (begun) {
        const std::scoped_lock lock(guard_);
        journal_ = std::move(*begun);
        told_ = false;
    }
    return aside;
}

void JournalKeeper::note(HistoryState history) {
    noted_ = std::move(history);
    if (!soon_.isActive())
        soon_.start();
}

void JournalKeeper::flush() {
    soon_.stop();
    hand(true);
}

void JournalKeeper::end() {
    soon_.stop();
    noted_ = {};
    std::unique_lock lock(guard_);
    wanted_.reset();
    change_.wait(lock, [this] { return !busy_; });
    if (journal_)
        journal_->remove();
    journal_.reset();
}

void JournalKeeper::hand(bool wait) {
    std::unique_lock lock(guard_);
    wanted_ = noted_;
    change_.notify_all();
    if (wait)
        change_.wait(lock, [this] { return !wanted_ && !busy_; });
}

void JournalKeeper::run(const std::stop_token& stop) {
    std::unique_lock lock(guard_);
    while (change_.wait(lock, stop, [this] { return wanted_.has_value(); })) {
        const HistoryState history = std::move(*wanted_);
        wanted_.reset();
        busy_ = true;
        lock.unlock();
        // Nobody else touches the journal while this is busy.
        const Expected<void> written = journal_ ? journal_->write(history) : Expected<void>();
        lock.lock();
        busy_ = false;
        if (!written && !told_)
            emit notified(QString::fromStdString(written.error().sentence));
        told_ = !written;
        change_.notify_all();
    }
}

} // namespace lampo
