#include "pipeline/take_content.h"

#include <xxhash.h>

namespace lampo {

std::uint64_t contentOf(const Take& take, SampleRate rate) {
    std::vector<std::uint64_t> parts{static_cast<std::uint64_t>(rate.hz)};
    for (const SourceFile& file : take.files) {
        parts.push_back(file.content != 0 ? file.content : std::hash<std::string>{}(file.file.string()));
        parts.push_back(static_cast<std::uint64_t>(file.channel));
        parts.push_back(static_cast<std::uint64_t>(file.offset.frames));
    }
    return XXH3_64bits(parts.data(), parts.size() * sizeof(parts.front()));
}

} // namespace lampo
