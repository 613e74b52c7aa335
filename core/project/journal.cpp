#include "project/journal.h"

#include "base/provisional_file.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "project/json_fields.h"
#include "project/project_json.h"

#include <fmt/core.h>
#include <xxhash.h>

#include <algorithm>
#include <array>
#include <cerrno>
#include <chrono>
#include <cstring>
#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>
#include <utility>

namespace lampo {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr std::string_view schema = "lampo-journal-1";
constexpr std::uintmax_t largestJournal = 1U << 30;
constexpr std::size_t sumDigits = 16;
constexpr std::size_t maxUndone = 1000;                       ///< steps that later records may go back over
constexpr std::int64_t largestNumber = std::int64_t{1} << 53; ///< JSON's own
const fs::path root = "/"; // files are named from there, wherever the project lies

std::string sumOf(std::string_view text) {
    return hexadecimal(XXH3_64bits(text.data(), text.size()));
}

/// A line: checksum, space, record.
std::string lineOf(json record) {
    const std::string text = jsonfields::written(std::move(record), -1);
    return sumOf(std::string_view(text).substr(0, text.size() - 1)) + ' ' + text;
}

std::int64_t now() {
    return std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch())
        .count();
}

/// `to` as `from` with one stretch replaced.
json changeOf(std::string_view from, std::string_view to) {
    const std::size_t shorter = std::min(from.size(), to.size());
    std::size_t head = 0, tail = 0;
    while (head < shorter && from[head] == to[head])
        ++head;
    while (tail < shorter - head && from[from.size() - 1 - tail] == to[to.size() - 1 - tail])
        ++tail;
    // Never inside a character of several bytes: what is between is text of its own.
    const auto inside = [](char byte) { return (static_cast<unsigned char>(byte) & 0xC0) == 0x80; };
    while (head > 0 && ((head < to.size() && inside(to[head])) || (head < from.size() && inside(from[head]))))
        --head;
    while (tail > 0 && (inside(to[to.size() - tail]) || inside(from[from.size() - tail])))
        --tail;
    return {{"head", head}, {"tail", tail}, {"text", to.substr(head, to.size() - head - tail)}};
}

std::size_t countOf(const json& record, const char* key) {
    return static_cast<std::size_t>(jsonfields::whole(record, key, 0, largestNumber));
}

/// Seconds since 1970, by a clock that may have been wrong.
std::int64_t timeOf(const json& record) {
    return jsonfields::whole(record, "at", -largestNumber, largestNumber);
}

std::string changed(const std::string& from, const json& change) {
    const std::size_t head = countOf(change, "head"), tail = countOf(change, "tail");
    if (head > from.size() || tail > from.size() - head)
        throw jsonfields::Damage{"a change lies outside the text"};
    return from.substr(0, head) + change.at("text").get<std::string>() + from.substr(from.size() - tail);
}

/// The records of a journal, up to the first that is not whole.
std::vector<json> recordsIn(std::string_view text) {
    std::vector<json> records;
    for (std::size_t end = 0; (end = text.find('\n')) != std::string_view::npos; text.remove_prefix(end + 1)) {
        const std::string_view line = text.substr(0, end);
        if (line.size() < sumDigits + 2 || sumOf(line.substr(sumDigits + 1)) != line.substr(0, sumDigits))
            break;
        records.push_back(json::parse(line.substr(sumDigits + 1), nullptr, false));
        if (records.back().is_discarded()) {
            records.pop_back();
            break;
        }
    }
    return records;
}

/// The text of each step, and its label.
struct TextHistory {
    std::string base;
    std::vector<std::pair<std::string, std::string>> steps; ///< label, text
    std::size_t done = 0;
    std::int64_t at = 0;
    std::size_t forgotten = 0; ///< steps before the base
    std::optional<std::size_t> saved{};

    void add(const json& record) {
        const std::size_t keep = countOf(record, "keep");
        if (keep < forgotten || keep - forgotten > steps.size())
            throw jsonfields::Damage{"it keeps other steps than there are"};
        steps.resize(keep - forgotten);
        for (const json& step : record.at("steps"))
            steps.emplace_back(jsonfields::anyText(jsonfields::member(step, "label"), "label"),
                               changed(steps.empty() ? base : steps.back().second, step));
        const std::size_t all = countOf(record, "done");
        done = std::min(all - std::min(all, forgotten), steps.size());
        saved.reset();
        if (!jsonfields::member(record, "saved").is_null())
            if (const std::size_t kept = countOf(record, "saved"); kept >= forgotten)
                saved = kept - forgotten;
        at = timeOf(record);
    }
    void forgetAllBut(std::size_t most) {
        if (steps.size() <= most)
            return;
        const std::size_t gone = std::min(steps.size() - most, done);
        if (gone == 0)
            return;
        base = steps[gone - 1].second;
        steps.erase(steps.begin(), steps.begin() + static_cast<std::ptrdiff_t>(gone));
        done -= gone;
        forgotten += gone;
        saved = saved && *saved >= gone ? std::optional(*saved - gone) : std::nullopt;
    }
};

Expected<JournalContent> contentOf(const TextHistory& texts, const fs::path& project, const std::string& named) {
    auto base = sessionFromText(texts.base, root, named);
    if (!base)
        return tl::unexpected(base.error());
    JournalContent content{project, texts.at, std::move(*base), {}};
    for (const auto& [label, text] : texts.steps) {
        auto after = sessionFromText(text, root, named);
        if (!after)
            return tl::unexpected(after.error());
        content.history.steps.push_back(std::make_shared<const HistoryStep>(HistoryStep{label, std::move(*after)}));
    }
    content.history.done = texts.done;
    content.history.saved = texts.saved;
    return content;
}

bool locks(int descriptor) {
    return ::flock(descriptor, LOCK_EX | LOCK_NB) == 0 || errno != EWOULDBLOCK;
}

} // namespace

Expected<Journal> Journal::begin(const fs::path& file, const fs::path& project, const Session& base) {
    std::error_code code;
    fs::create_directories(file.parent_path(), code);
    Descriptor descriptor(::open(file.c_str(), O_RDWR | O_CREAT | O_NOFOLLOW | O_CLOEXEC, 0600));
    if (!descriptor)
        return fail(ErrorKind::unwritable,
                    fmt::format("The journal of what is not saved yet could not be written into \"{}\": {}",
                                file.parent_path().string(), std::strerror(errno)));
    Journal journal(file, std::move(descriptor), base);
    const int number = journal.descriptor_.number();
    if (!locks(number))
        return fail(ErrorKind::unwritable,
                    quotedName(project) +
                        " is open in another window, which keeps its journal: save there, or here "
                        "under another name");
    if (::ftruncate(number, 0) != 0 || ::lseek(number, 0, SEEK_SET) != 0)
        return fail(ErrorKind::unwritable,
                    fmt::format("{} could not be written: {}", quotedName(file), std::strerror(errno)));
    if (auto begun = journal.append(lineOf(
            {{"schema", schema}, {"project", project.string()}, {"at", now()}, {"base", journal.baseText_}}));
        !begun)
        return tl::unexpected(begun.error());
    syncFolder(file.parent_path());
    return journal;
}

Journal::Journal(fs::path file, Descriptor descriptor, const Session& base)
    : file_(std::move(file)), descriptor_(std::move(descriptor)), baseText_(projectText(base, root)) {}

/// All of it or, as far as the file allows, nothing: a torn record would end the journal for good.
Expected<void> Journal::append(std::string_view record) {
    const off_t before = ::lseek(descriptor_.number(), 0, SEEK_END);
    while (!record.empty()) {
        const ssize_t done = ::write(descriptor_.number(), record.data(), record.size());
        if (done < 0 && errno == EINTR)
            continue;
        if (done <= 0) {
            [[maybe_unused]] const int cut = ::ftruncate(descriptor_.number(), before);
            return fail(ErrorKind::diskFull, "The journal of what is not saved yet cannot be written: the disk is "
                                             "full; save the project elsewhere");
        }
        record.remove_prefix(static_cast<std::size_t>(done));
    }
    if (::fdatasync(descriptor_.number()) != 0) {
        [[maybe_unused]] const int cut = ::ftruncate(descriptor_.number(), before);
        return fail(
            ErrorKind::diskFull,
            fmt::format("The journal of what is not saved yet cannot be written: {}; save the project elsewhere",
                        std::strerror(errno)));
    }
    return {};
}

std::string Journal::textBefore(const HistoryState& history, std::size_t step) const {
    return step == 0 ? baseText_ : projectText(history.steps[step - 1]->after, root);
}

Expected<void> Journal::write(const HistoryState& history) {
    const auto differs =
        std::mismatch(history.steps.begin(), history.steps.end(), written_.steps.begin(), written_.steps.end());
    const auto keep = static_cast<std::size_t>(differs.first - history.steps.begin());
    if (keep == history.steps.size() && keep == written_.steps.size() && history.done == written_.done &&
        history.saved == written_.saved)
        return {};
    json steps = json::array();
    std::string before = textBefore(history, keep);
    for (std::size_t step = keep; step < history.steps.size(); ++step) {
        std::string after = projectText(history.steps[step]->after, root);
        json change = changeOf(before, after);
        change["label"] = history.steps[step]->label;
        steps.push_back(std::move(change));
        before = std::move(after);
    }
    return append(lineOf({{"at", now()},
                          {"keep", keep},
                          {"done", history.done},
                          {"saved", history.saved ? json(*history.saved) : json()},
                          {"steps", std::move(steps)}}))
        .map([&] { written_ = history; });
}

void Journal::remove() {
    ::unlink(file_.c_str());
    descriptor_.close();
}

Expected<JournalContent> readJournal(const fs::path& file, std::size_t maxSteps) {
    const auto text = readWhole(file, largestJournal, "journal");
    if (!text)
        return tl::unexpected(text.error());
    const auto notOurs = [&] {
        return fail(ErrorKind::damagedProject, quotedName(file) + " is not a journal of Lampo");
    };
    const auto records = recordsIn(*text);
    try {
        if (records.empty() || records.front().at("schema") != schema)
            return notOurs();
        TextHistory history{records.front().at("base").get<std::string>(), {}, 0, timeOf(records.front()), 0};
        for (std::size_t r = 1; r < records.size(); ++r) {
            history.add(records[r]);
            history.forgetAllBut(r + 1 < records.size() ? std::max(maxSteps, maxUndone) : maxSteps);
        }
        return contentOf(history, jsonfields::text(records.front(), "project"), quotedName(file));
    } catch (const json::exception&) {
        return notOurs();
    } catch (const jsonfields::Damage&) {
        return notOurs();
    }
}

bool isLeft(const fs::path& journal) {
    const Descriptor descriptor(::open(journal.c_str(), O_RDONLY | O_NOFOLLOW | O_NONBLOCK | O_CLOEXEC));
    return descriptor && locks(descriptor.number());
}

} // namespace lampo
