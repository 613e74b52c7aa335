#include "pipeline/seam_cache.h"

#include <cstring>
#include <string>
#include <xxhash.h>

using namespace lampo;

/// Kept seams that are damaged are as if there were none; what is read is within what the search can find.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    // With the checksum that it should have, so that there is something behind it to be read.
    constexpr std::size_t checksumAt = 8, bodyAt = 16;
    std::string bytes(reinterpret_cast<const char*>(data), size);
    if (size >= bodyAt) {
        const std::uint64_t sum = XXH3_64bits(bytes.data() + bodyAt, size - bodyAt);
        std::memcpy(bytes.data() + checksumAt, &sum, sizeof(sum));
    }
    (void)seamsIn(bytes);
    return 0;
}
