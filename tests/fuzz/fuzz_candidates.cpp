#include "chain/candidate_cache.h"
#include "fuzz/in_memory.h"

using namespace lampo;

/// Kept candidates that are damaged are as if there were none.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const test::InMemory file(data, size);
    readCandidates(file.path());
    return 0;
}
