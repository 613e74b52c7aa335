#include "base/error.h"

#include "base/text.h"

namespace lampo {

std::string_view name(ErrorKind kind) {
    switch (kind) {
    case ErrorKind::notFound:
        return "not-found";
    case ErrorKind::noAudio:
        return "no-audio";
    case ErrorKind::unreadable:
        return "unreadable";
    case ErrorKind::truncated:
        return "truncated";
    case ErrorKind::empty:
        return "empty";
    case ErrorKind::notMono:
        return "not-mono";
    case ErrorKind::rateDiffers:
        return "rate-differs";
    case ErrorKind::lengthDiffers:
        return "length-differs";
    case ErrorKind::contentDiffers:
        return "content-differs";
    case ErrorKind::notANumber:
        return "not-a-number";
    case ErrorKind::unwritable:
        return "unwritable";
    case ErrorKind::diskFull:
        return "disk-full";
    case ErrorKind::tooLarge:
        return "too-large";
    case ErrorKind::damagedProject:
        return "damaged-project";
    case ErrorKind::badValue:
        return "bad-value";
    case ErrorKind::cancelled:
        return "cancelled";
    case ErrorKind::changedOnDisk:
        return "changed-on-disk";
    }
    return "unknown";
}

std::string quotedName(const std::filesystem::path& file) {
    const auto leaf = file.has_filename() ? file.filename() : file.parent_path().filename();
    return "\"" + visible(leaf.string()) + "\"";
}

} // namespace lampo
