#include "base/error.h"

#include "base/enum_names.h"
#include "base/text.h"

#include <fmt/core.h>

namespace lampo {

std::string_view name(ErrorKind kind) {
    constexpr EnumNames<ErrorKind, ErrorKind::changedOnDisk> names{
        "not-found",    "no-audio",        "unreadable",      "truncated",    "empty",          "not-mono",
        "rate-differs", "length-differs",  "content-differs", "not-a-number", "unwritable",     "disk-full",
        "too-large",    "damaged-project", "bad-value",       "cancelled",    "changed-on-disk"};
    return names.of(kind);
}

std::string quotedName(const std::filesystem::path& file) {
    const auto leaf = file.has_filename() ? file.filename() : file.parent_path().filename();
    return fmt::format("\"{}\"", visible(leaf.string()));
}

} // namespace lampo
