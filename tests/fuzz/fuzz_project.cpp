#include "project/project_json.h"
#include "session/pieces.h"

#include <cstdint>
#include <cstdlib>

using namespace lampo;

/// Projects are refused, or read, written and read again to the same session.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto session = sessionFromText({reinterpret_cast<const char*>(data), size}, "/", "it");
    if (!session)
        return 0;
    piecesOf(*session);
    const auto again = sessionFromText(projectText(*session, "/"), "/", "it");
    if (!again || !(*again == *session))
        std::abort();
    return 0;
}
