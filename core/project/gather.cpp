#include "project/gather.h"

#include "audio/checksums.h"
#include "base/provisional_file.h"
#include "base/text.h"
#include "base/whole_file.h"
#include "project/project_file.h"
#include "session/relocate.h"

#include <algorithm>
#include <fmt/core.h>
#include <fstream>
#include <map>
#include <set>

namespace lampo {
namespace {

namespace fs = std::filesystem;

/// What is copied where; a file that several mics share is copied once.
class Copies {
public:
    explicit Copies(const fs::path& folder) : folder_(folder) {}

    void add(const Session& session) {
        for (const Take& take : session.takes)
            for (const SourceFile& source : take.files)
                add(source, fs::path(gatheredRecording) / take.letter.text());
        for (const Companion& companion : session.companions)
            add(companion.file, gatheredBeside);
        eachSampleFile(session.samples,
                       [&](const DrumSample&, const SourceFile& file) { add(file, gatheredSamples); });
        for (const Version& version : session.versions)
            add(*version.session);
    }
    const std::vector<Relocation>& all() const { return all_; }

private:
    void add(const SourceFile& source, const fs::path& into) {
        if (source.empty() || !known_.insert(source.file).second)
            return;
        fs::path name = into / source.file.filename();
        for (int number = 2; !taken_.insert(lowered(name.string())).second; ++number)
            name = into /
                   fmt::format("{} {}{}", source.file.stem().string(), number, source.file.extension().string());
        all_.push_back({source.file, folder_ / name, source.content, source.length});
    }

    fs::path folder_;
    std::set<fs::path> known_;
    std::set<std::string> taken_; ///< in lower case: some file systems do not tell them apart
    std::vector<Relocation> all_;
};

Expected<void> checkFolder(const fs::path& folder) {
    std::error_code missing;
    const auto entries = fs::directory_iterator(folder, missing);
    if (!missing && entries != fs::directory_iterator())
        return fail(
            ErrorKind::unwritable,
            fmt::format("The folder {} holds something already: choose an empty or a new one", quotedName(folder)));
    std::error_code code;
    fs::create_directories(folder, code);
    if (code)
        return fail(ErrorKind::unwritable, fmt::format("The folder {} could not be made", quotedName(folder)));
    return {};
}

std::uintmax_t sizeOf(const fs::path& file) {
    std::error_code missing;
    const auto size = fs::file_size(file, missing);
    return missing ? 0 : size;
}

/// All of them, with what they are to be told by.
class Copier {
public:
    Copier(const std::vector<Relocation>& copies, const Progress& progress) : copies_(copies), progress_(progress) {
        for (const Relocation& copy : copies)
            total_ += static_cast<double>(sizeOf(copy.from));
    }

    Expected<void> run() {
        for (const Relocation& copy : copies_)
            if (auto done = copied(copy); !done)
                return done;
        return {};
    }

private:
    Expected<void> copied(const Relocation& copy) {
        std::ifstream in(copy.from, std::ios::binary);
        if (!in)
            return fail(ErrorKind::notFound,
                        fmt::format("There is no {} any more: put it back, or choose where it is in "
                                    "Files of the recording",
                                    quotedName(copy.from)));
        std::error_code code;
        fs::create_directories(copy.to.parent_path(), code);
        auto out = ProvisionalFile::beside(copy.to);
        if (!out)
            return tl::unexpected(out.error());
        std::string bytes(1 << 20, '\0');
        while (in) {
            if (progress_.cancelled())
                return fail(ErrorKind::cancelled, "Gathering was stopped; nothing was left behind");
            in.read(bytes.data(), std::ssize(bytes));
            const auto count = static_cast<std::size_t>(in.gcount());
            if (auto written = out->write(std::string_view(bytes).substr(0, count)); !written)
                return written;
            done_ += static_cast<double>(count);
            progress_.at(0.8 * done_ / std::max(total_, 1.0));
        }
        if (in.bad())
            return fail(ErrorKind::unreadable,
                        fmt::format("{} could not be read to its end", quotedName(copy.from)));
        return out->sync().and_then([&] { return out->commit(); });
    }

    const std::vector<Relocation>& copies_;
    const Progress& progress_;
    double total_ = 0, done_ = 0; ///< bytes
};

/// Of the sources and of the copies: the same, and the list of them.
Expected<std::string> comparedSums(const std::vector<Relocation>& copies, const fs::path& folder) {
    std::vector<SummedFile> sources, made;
    for (const Relocation& copy : copies) {
        const std::string called = copy.to.lexically_relative(folder).generic_string();
        sources.push_back({copy.from, called});
        made.push_back({copy.to, called});
    }
    const auto before = checksumList(sources), after = checksumList(made);
    if (!before || !after)
        return tl::unexpected((before ? after : before).error());
    if (*before != *after)
        return fail(ErrorKind::unreadable,
                    "A copy is not what its file was: the disk or the file changed meanwhile");
    return *after;
}

Expected<fs::path> gatherInto(const Session& session, const fs::path& folder, const Progress& progress) {
    Copies copies(folder);
    copies.add(session);
    auto sums = Copier(copies.all(), progress).run().and_then([&] { return comparedSums(copies.all(), folder); });
    if (!sums)
        return tl::unexpected(sums.error());
    progress.at(0.95);
    const fs::path project = folder / (asFileName(session.title.empty() ? "song" : session.title) + ".lampo");
    return saveProject(relocated(session, copies.all()), project)
        .and_then([&] {
            return checksumList({{project, project.filename().string()}});
        })
        .and_then([&](const std::string& own) { return writeAtomically(folder / gatheredSums, own + *sums); })
        .map([&] {
            progress.at(1);
            return project;
        });
}

} // namespace

Expected<fs::path> gather(const Session& session, const fs::path& folder, const Progress& progress) {
    const fs::path whole = fs::absolute(folder).lexically_normal();
    std::error_code missing;
    const bool wasThere = fs::exists(whole, missing);
    if (auto empty = checkFolder(whole); !empty)
        return tl::unexpected(empty.error());
    auto gathered = gatherInto(session, whole, progress);
    if (!gathered) { // it was empty: all that is in it is ours
        std::error_code ignored;
        for (const auto& entry : fs::directory_iterator(whole, ignored))
            fs::remove_all(entry.path(), ignored);
        if (!wasThere)
            fs::remove(whole, ignored);
    }
    return gathered;
}

} // namespace lampo
