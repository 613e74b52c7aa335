#include "interchange/timeline_json.h"

#include <cstdint>
#include <cstdlib>

using namespace lampo;

/// What is read is written and read again as the same value.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto timeline = timelineFrom({reinterpret_cast<const char*>(data), size}, "/song", "it");
    if (!timeline)
        return 0;
    const auto again = timelineFrom(timelineText(*timeline, "/song"), "/song", "it");
    if (!again || !(*again == *timeline))
        std::abort();
    return 0;
}
