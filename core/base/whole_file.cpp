#include "base/whole_file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fstream>
#include <sstream>
#include <unistd.h>

namespace lampo {
namespace {

bool writeAll(int descriptor, std::string_view text) {
    while (!text.empty()) {
        const ssize_t done = ::write(descriptor, text.data(), text.size());
        if (done < 0 && errno == EINTR)
            continue;
        if (done <= 0)
            return false;
        text.remove_prefix(static_cast<std::size_t>(done));
    }
    // Without this a power cut could leave the new name on an empty file.
    return ::fsync(descriptor) == 0;
}

} // namespace

Expected<void> writeAtomically(const std::filesystem::path& file, std::string_view text) {
    const std::filesystem::path part = file.string() + ".part";
    const int descriptor = ::open(part.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0644);
    if (descriptor < 0)
        return fail(ErrorKind::unwritable, quotedName(file) + " could not be written in \"" +
                                               file.parent_path().string() + "\": " + std::strerror(errno));
    const bool complete = writeAll(descriptor, text);
    const bool closed = ::close(descriptor) == 0;
    std::error_code code;
    if (complete && closed)
        std::filesystem::rename(part, file, code);
    if (complete && closed && !code)
        return {};
    std::error_code ignored;
    std::filesystem::remove(part, ignored);
    if (code)
        return fail(ErrorKind::unwritable, quotedName(file) + " could not be given its name: " + code.message());
    return fail(ErrorKind::diskFull,
                quotedName(file) + " could not be written: the disk is full; what was there before is untouched");
}

Expected<std::string> readWhole(const std::filesystem::path& file, std::uintmax_t largest, std::string_view what) {
    std::error_code code;
    if (!std::filesystem::is_regular_file(file, code))
        return fail(ErrorKind::notFound, "There is no " + std::string(what) + " " + quotedName(file) +
                                             " (looked for \"" + file.string() + "\")");
    if (std::filesystem::file_size(file, code) > largest)
        return fail(ErrorKind::damagedProject,
                    quotedName(file) + " is too large to be a Lampo " + std::string(what));
    std::ifstream in(file, std::ios::binary);
    std::ostringstream text;
    text << in.rdbuf();
    if (!in)
        return fail(ErrorKind::unreadable, quotedName(file) + " could not be read");
    return text.str();
}

} // namespace lampo
