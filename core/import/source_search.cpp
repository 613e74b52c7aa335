#include "import/source_search.h"

#include "audio/audio_reader.h"
#include "audio/fingerprint.h"
#include "base/parallel.h"
#include "base/text.h"
#include "import/take_files.h"

#include <algorithm>
#include <fmt/core.h>
#include <map>

namespace lampo {
namespace {

namespace fs = std::filesystem;
using Kind = SourceProblem::Kind;

/// Each file once.
std::vector<SourceProblem> allSources(const Session& session) {
    std::map<fs::path, SourceProblem> sources;
    const auto add = [&](const SourceFile& source, const std::string& mic) {
        if (!source.empty())
            sources.try_emplace(source.file, SourceProblem{source, mic, {}, {}});
    };
    for (const Take& take : session.takes)
        for (std::size_t m = 0; m < take.files.size(); ++m)
            add(take.files[m], fmt::format("{} of take {}", session.mics[m].shownName(), take.letter.text()));
    for (const Companion& companion : session.companions)
        add(companion.file, companion.name);
    eachSampleFile(session.samples,
                   [&](const DrumSample& sample, const SourceFile& file) { add(file, sample.name); });
    std::vector<SourceProblem> list;
    list.reserve(sources.size());
    for (auto& [file, source] : sources)
        list.push_back(std::move(source));
    return list;
}

/// Sets kind and error; false when all is well.
bool isProblem(SourceProblem& source, SampleRate rate) {
    const auto& wanted = source.wanted;
    const auto reader = AudioReader::open(wanted, rate);
    if (!reader) {
        source.kind = reader.error().kind == ErrorKind::notFound ? Kind::missing : Kind::unreadable;
        source.error = reader.error();
        return true;
    }
    if (wanted.length != FrameCount{} && SourceFrame{0} + reader->info().length != wanted.end()) {
        source.kind = Kind::otherLength;
        source.error = {ErrorKind::lengthDiffers, quotedName(wanted.file) +
                                                      " is no longer as long as when it was brought in: put the "
                                                      "original file back"};
        return true;
    }
    if (wanted.content == 0)
        return false;
    if (const auto content = fingerprintOf(wanted.file); !content || *content == wanted.content)
        return false;
    source.kind = Kind::otherContent;
    source.error = {ErrorKind::contentDiffers, quotedName(wanted.file) +
                                                   " is another recording than the one that was brought in, though "
                                                   "of the same name and length: put the original file back"};
    return true;
}

/// The audio files below a folder that can be looked at, sorted.
Expected<std::vector<fs::path>> filesBelow(const fs::path& folder, const Progress& progress) {
    std::error_code code;
    std::vector<fs::path> files;
    auto entries = fs::recursive_directory_iterator(folder, fs::directory_options::skip_permission_denied, code);
    if (code)
        return fail(ErrorKind::notFound,
                    fmt::format("The folder {} could not be read: {}", quotedName(folder), code.message()));
    for (; entries != fs::recursive_directory_iterator() && files.size() < maxFilesLookedAt;
         entries.increment(code)) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Looking for files was stopped");
        std::error_code ofEntry;
        if (isReadAudioKind(entries->path()) && entries->is_regular_file(ofEntry))
            files.push_back(entries->path());
    }
    std::sort(files.begin(), files.end());
    return files;
}

/// A file that was looked at; what is costly to know is asked for once, and only when it matters.
class LookedAtFile {
public:
    LookedAtFile(fs::path file, SampleRate rate) : file_(std::move(file)), rate_(rate) {}

    const fs::path& file() const { return file_; }
    FrameCount length() {
        if (!length_) {
            const auto reader = AudioReader::open(SourceFile(file_), rate_);
            length_ = reader ? reader->info().length : FrameCount{-1};
        }
        return *length_;
    }
    std::uint64_t content() {
        if (!content_)
            content_ = fingerprintOf(file_).value_or(0);
        return *content_;
    }
    bool isCalled(const SourceFile& wanted) const {
        return lowered(file_.filename().string()) == lowered(wanted.file.filename().string());
    }
    bool isAsLongAs(const SourceFile& wanted) { return length() == wanted.length; }
    bool holds(const SourceFile& wanted) {
        return wanted.content != 0 && isAsLongAs(wanted) && content() == wanted.content;
    }
    FoundSource found(const SourceFile& wanted, FoundSource::By by) {
        return {{wanted.file, file_, content(), length()}, by};
    }

private:
    fs::path file_;
    SampleRate rate_;
    std::optional<FrameCount> length_;
    std::optional<std::uint64_t> content_;
};

/// Nothing, also when it was stopped on the way.
std::optional<FoundSource> bestFor(const SourceFile& wanted, std::vector<LookedAtFile>& files,
                                   const Progress& progress) {
    const auto first = [&](FoundSource::By by, auto&& fits) -> std::optional<FoundSource> {
        const auto found = std::find_if(files.begin(), files.end(),
                                        [&](LookedAtFile& file) { return progress.cancelled() || fits(file); });
        return found == files.end() || progress.cancelled() ? std::nullopt
                                                            : std::optional(found->found(wanted, by));
    };
    using By = FoundSource::By;
    auto best = first(By::content, [&](LookedAtFile& f) { return f.isCalled(wanted) && f.holds(wanted); });
    if (!best && wanted.content != 0)
        best = first(By::content, [&](LookedAtFile& f) { return f.holds(wanted); });
    if (!best)
        best =
            first(By::nameAndLength, [&](LookedAtFile& f) { return f.isCalled(wanted) && f.isAsLongAs(wanted); });
    return best;
}

} // namespace

std::vector<SourceProblem> checkSources(const Session& session) {
    std::vector<SourceProblem> sources = allSources(session);
    std::vector<char> wrong(sources.size());
    forEachIndex(
        sources.size(), [&](std::size_t i) { wrong[i] = isProblem(sources[i], session.rate) ? 1 : 0; }, ioThreads);
    std::vector<SourceProblem> problems;
    for (std::size_t i = 0; i < sources.size(); ++i)
        if (wrong[i] != 0)
            problems.push_back(std::move(sources[i]));
    return problems;
}

Session fingerprinted(Session session) {
    std::map<fs::path, std::uint64_t> prints;
    const auto isUnknown = [](const SourceFile& source) { return !source.empty() && source.content == 0; };
    const auto note = [&](const SourceFile& source) {
        if (isUnknown(source))
            prints[source.file] = 0;
    };
    for (const Take& take : session.takes)
        std::for_each(take.files.begin(), take.files.end(), note);
    for (const Companion& companion : session.companions)
        note(companion.file);
    eachSampleFile(session.samples, [&](const DrumSample&, const SourceFile& file) { note(file); });
    std::vector<std::pair<const fs::path, std::uint64_t>*> unknown; // halves of a stereo file have one
    unknown.reserve(prints.size());
    for (auto& print : prints)
        unknown.push_back(&print);
    forEachIndex(
        unknown.size(), [&](std::size_t i) { unknown[i]->second = fingerprintOf(unknown[i]->first).value_or(0); },
        ioThreads);
    const auto mark = [&](SourceFile& source) {
        const bool wasUnknown = isUnknown(source);
        if (wasUnknown)
            source.content = prints.at(source.file);
        return wasUnknown;
    };
    for (Take& take : session.takes)
        take.files.changeEach(mark);
    for (Companion& companion : session.companions)
        mark(companion.file);
    eachSampleFile(session.samples, [&](const DrumSample&, SourceFile& file) { mark(file); });
    return session;
}

Expected<std::vector<std::optional<FoundSource>>> findSources(const std::vector<SourceProblem>& problems,
                                                              SampleRate rate, const fs::path& folder,
                                                              const Progress& progress) {
    const auto files = filesBelow(folder, progress);
    if (!files)
        return tl::unexpected(files.error());
    std::vector<LookedAtFile> lookedAt;
    for (const fs::path& file : *files)
        lookedAt.emplace_back(file, rate);
    std::vector<std::optional<FoundSource>> found;
    for (const SourceProblem& problem : problems) {
        found.push_back(bestFor(problem.wanted, lookedAt, progress));
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Looking for files was stopped");
        progress.at(static_cast<double>(found.size()) / static_cast<double>(problems.size()));
    }
    return found;
}

Expected<FoundSource> takeInstead(const SourceProblem& problem, SampleRate rate, const fs::path& file) {
    return AudioReader::open(SourceFile(file, problem.wanted.channel), rate).map([&](const AudioReader& reader) {
        return FoundSource{{problem.wanted.file, file, fingerprintOf(file).value_or(0), reader.info().length},
                           FoundSource::By::hand};
    });
}

} // namespace lampo
