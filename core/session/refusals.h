#pragma once

#include "base/error.h"
#include "base/limits.h"

namespace lampo {

// How edits and readers refuse what cannot be: badValue, with a sentence.

inline tl::unexpected<Error> refuse(std::string sentence) {
    return fail(ErrorKind::badValue, std::move(sentence));
}
/// Of something that is not there: "There is no such mic".
tl::unexpected<Error> noSuch(const std::string& what);
/// Whether a setting can have this value. Errors: badValue, with a sentence that names the range: "A fade goes from
/// 1 to 50 ms".
Expected<void> inRange(double value, const limits::Setting& setting, const char* what);

} // namespace lampo
