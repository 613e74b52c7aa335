#include "fuzz/in_memory.h"
#include "project/journal.h"

using namespace lampo;

/// A journal may be torn, damaged or anybody's.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const test::InMemory file(data, size);
    readJournal(file.path());
    return 0;
}
