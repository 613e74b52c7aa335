#include "base/protected_files.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

namespace fs = std::filesystem;

bool isSame(const fs::path& a, const fs::path& b) {
    std::error_code code;
    if (fs::equivalent(a, b, code))
        return true;
    const fs::path there = fs::weakly_canonical(a, code);
    return !code && there == fs::weakly_canonical(b, code) && !code;
}

} // namespace

void ProtectedFiles::add(const fs::path& file, std::string what) {
    if (!file.empty())
        files_.push_back({file, std::move(what)});
}

Expected<void> ProtectedFiles::mayWrite(const fs::path& target) const {
    const auto same =
        std::find_if(files_.begin(), files_.end(), [&](const Protected& one) { return isSame(one.file, target); });
    if (same == files_.end())
        return {};
    return fail(ErrorKind::unwritable, fmt::format("{} is {}, which is not written over; choose another name",
                                                   quotedName(target), same->what));
}

} // namespace lampo
