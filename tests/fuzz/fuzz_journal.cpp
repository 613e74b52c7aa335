#include "base/text.h"
#include "fuzz/in_memory.h"
#include "project/journal.h"
#include "support/journal_line.h"

#include <string>

using namespace lampo;

/// A journal may be torn, damaged or anybody's. An input that begins with a brace is its records, each in a line,
/// and gets the checksums that they should have.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    std::string text(reinterpret_cast<const char*>(data), size);
    if (text.starts_with('{')) {
        std::string summed;
        for (const std::string& record : split(text, '\n'))
            summed += test::journalLine(record);
        text = summed;
    }
    const test::InMemory file(reinterpret_cast<const std::uint8_t*>(text.data()), text.size());
    (void)readJournal(file.path());
    return 0;
}
