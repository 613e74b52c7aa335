#pragma once

#include "base/text.h"

#include <string>
#include <xxhash.h>

namespace lampo::test {

/// A line of a journal: the checksum that its record should have, a space, the record (docs/formats.md).
inline std::string journalLine(const std::string& record) {
    return hexadecimal(XXH3_64bits(record.data(), record.size())) + ' ' + record + '\n';
}

} // namespace lampo::test
