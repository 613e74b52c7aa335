#include "session/relocate.h"

#include <algorithm>
#include <optional>

namespace lampo {
namespace {

bool move(SourceFile& source, const std::vector<Relocation>& relocations) {
    const auto found = std::find_if(relocations.begin(), relocations.end(),
                                    [&](const Relocation& r) { return r.from == source.file; });
    if (source.empty() || found == relocations.end())
        return false;
    source.file = found->to;
    source.content = found->content;
    source.length = found->length;
    return true;
}

/// A take ends with its longest file. Its folder stays while any of its files lies there.
void move(Take& take, const std::vector<Relocation>& relocations) {
    if (!take.files.changeEach([&](SourceFile& file) { return move(file, relocations); }))
        return;
    take.length = {};
    std::optional<std::filesystem::path> folder;
    for (const SourceFile& file : take.files) {
        if (file.empty())
            continue;
        take.length = std::max(take.length, file.end() - SourceFrame{0});
        if (!folder || file.file.parent_path() == take.folder)
            folder = file.file.parent_path();
    }
    take.folder = folder.value_or(take.folder);
}

} // namespace

Session relocated(const Session& session, const std::vector<Relocation>& relocations) {
    Session result = session;
    for (Take& take : result.takes)
        move(take, relocations);
    for (Companion& companion : result.companions)
        move(companion.file, relocations);
    eachSampleFile(result.samples, [&](const DrumSample&, SourceFile& file) { move(file, relocations); });
    for (Version& version : result.versions)
        version.session = std::make_shared<const Session>(relocated(*version.session, relocations));
    return result;
}

} // namespace lampo
