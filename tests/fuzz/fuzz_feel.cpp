#include "project/feel_file.h"

#include <cstdint>
#include <cstdlib>

using namespace lampo;

/// Feels are refused, or keep the order of their places.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto feel = feelFromText({reinterpret_cast<const char*>(data), size}, "it");
    if (feel && !isFeel(*feel))
        std::abort();
    return 0;
}
