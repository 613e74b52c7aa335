#include "audio/fingerprint.h"

#include "audio/file_bytes.h"

#include <xxhash.h>

#include <algorithm>
#include <vector>

namespace lampo {
namespace {

constexpr std::int64_t places = 10; ///< begin and end among them

} // namespace

Expected<std::uint64_t> fingerprintOf(const std::filesystem::path& file) {
    auto bytes = FileBytes::open(file);
    if (!bytes)
        return tl::unexpected(bytes.error());
    const auto piece = static_cast<std::int64_t>(FileBytes::shortestPiece);
    const std::int64_t last = std::max<std::int64_t>(0, bytes->size() - piece);
    auto hash = static_cast<std::uint64_t>(bytes->size());
    std::vector<char> content(FileBytes::shortestPiece);
    for (std::int64_t place = 0; place < places; ++place) {
        const std::size_t got = bytes->read(last * place / (places - 1), content);
        hash = XXH3_64bits_withSeed(content.data(), got, hash);
        if (last == 0)
            break; // all of it was read
    }
    return std::max<std::uint64_t>(hash, 1);
}

} // namespace lampo
