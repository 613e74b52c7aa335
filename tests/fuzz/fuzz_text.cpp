#include "base/text.h"
#include "import/import_plan.h"
#include "import/take_names.h"
#include "session/role.h"

#include <cstdint>
#include <cstdlib>

using namespace lampo;

/// File names, of whatever bytes: guessed from, made visible, and kept in UTF-8. The input is one name a line.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view all(reinterpret_cast<const char*>(data), size);
    std::vector<std::string> names = split(all, '\n');
    names.resize(std::min<std::size_t>(names.size(), 64));
    for (const std::string& name : names) {
        (void)guessRole(name);
        (void)soundsBesideTheKit(name);
        (void)splitTakeName(name);
        if (visible(visible(name)) != visible(name))
            std::abort();
        const std::string file = asFileName(name);
        if (!file.empty() && file != "." && file != ".." && !isFileName(file))
            std::abort();
        if (name.find('\0') == std::string::npos && bytesOfUtf8(asUtf8(name)) != name)
            std::abort();
        (void)bytesOfUtf8(name);
        (void)numberOfHexadecimal(name);
    }
    (void)takesByName(names);
    return 0;
}
