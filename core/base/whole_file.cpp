#include "base/whole_file.h"

#include "base/provisional_file.h"
#include "base/text.h"

#include <fmt/core.h>
#include <fstream>
#include <sstream>

namespace lampo {

Expected<void> writeAtomically(const std::filesystem::path& file, std::string_view text) {
    auto part = ProvisionalFile::beside(file);
    if (!part)
        return tl::unexpected(part.error());
    return part->write(text).and_then([&] { return part->sync(); }).and_then([&] { return part->commit(); });
}

Expected<std::string> readWhole(const std::filesystem::path& file, std::uintmax_t largest, std::string_view what) {
    std::error_code code;
    if (!std::filesystem::is_regular_file(file, code))
        return fail(ErrorKind::notFound,
                    fmt::format("There is no {} {} (looked for \"{}\")", what, quotedName(file), file.string()));
    if (std::filesystem::file_size(file, code) > largest)
        return fail(ErrorKind::tooLarge,
                    fmt::format("{} is too large to be {}", quotedName(file), withArticle(what)));
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    text << in.rdbuf();
    if (!in)
        return fail(ErrorKind::unreadable, quotedName(file) + " could not be read");
    return text.str();
}

} // namespace lampo
