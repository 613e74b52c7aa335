#pragma once

#include <tl/expected.hpp>

#include <filesystem>
#include <string>
#include <string_view>

namespace lampo {

/// What went wrong, for code. The sentence beside it is for people.
enum class ErrorKind {
    notFound,
    noAudio,
    unreadable,
    truncated,
    empty,
    notMono,
    rateDiffers,
    lengthDiffers,
    contentDiffers,
    notANumber,
    unwritable,
    diskFull,
    tooLarge,
    damagedProject,
    badValue,
    cancelled,
    changedOnDisk,
};

/// A failure caused by the outside world. `sentence` is complete: it names the file, says what happened and what
/// can be done, and ends without a full stop so that it can be put on one line.
struct Error {
    ErrorKind kind;       ///< by which a caller tells what to do
    std::string sentence; ///< for people: one sentence, with the file's name, without a full stop
};

/// Stable identifier, for logs and tests.
std::string_view name(ErrorKind kind);

template <class T>
using Expected = tl::expected<T, Error>;

/// A file name in quotes, without its folder, as it may be shown.
std::string quotedName(const std::filesystem::path& file);

inline tl::unexpected<Error> fail(ErrorKind kind, std::string sentence) {
    return tl::unexpected<Error>({kind, std::move(sentence)});
}

} // namespace lampo
