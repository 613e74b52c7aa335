#include "pipeline/seam_cache.h"

#include "base/limits.h"
#include "base/whole_file.h"
#include "seams/curve.h"

#include <xxhash.h>

#include <array>
#include <cstring>
#include <string>

namespace lampo {
namespace {

/// The last digit changes whenever the search finds otherwise than before.
constexpr std::array<char, 8> mark{'l', 'a', 'm', 'p', 'o', 's', '2', '\n'};
constexpr std::size_t most = 100'000;
constexpr float loudest = 1000; ///< dB, of any figure

struct Entry {
    std::uint64_t high, low;
    std::int64_t later, length;
    float likeness, dip, ruledDip, ring;

    /// Whether the search could have found it.
    bool sound() const {
        return -limits::frames <= later && later <= limits::frames && 0 < length && length <= limits::frames &&
               leastLikeness <= likeness && likeness <= 1 && 0 <= dip && dip <= loudest && 0 <= ruledDip &&
               ruledDip <= loudest && 0 <= ring && ring <= loudest;
    }
};
static_assert(sizeof(Entry) == 48);

std::filesystem::path fileIn(const std::filesystem::path& folder) {
    return folder / "found.seams";
}

} // namespace

SeamAnswers seamsIn(std::string_view bytes) {
    SeamAnswers answers;
    std::uint64_t checksum = 0;
    constexpr std::size_t header = mark.size() + sizeof(checksum);
    if (bytes.size() < header || std::memcmp(bytes.data(), mark.data(), mark.size()) != 0)
        return {};
    std::memcpy(&checksum, bytes.data() + mark.size(), sizeof(checksum));
    const std::string_view body = bytes.substr(header);
    if (body.size() % sizeof(Entry) != 0 || XXH3_64bits(body.data(), body.size()) != checksum)
        return {};
    for (std::size_t at = 0; at < body.size(); at += sizeof(Entry)) {
        Entry entry{};
        std::memcpy(&entry, body.data() + at, sizeof(entry));
        if (!entry.sound())
            return {};
        answers.add({entry.high, entry.low}, {FrameCount{entry.later}, FrameCount{entry.length}, entry.likeness,
                                              entry.dip, entry.ruledDip, entry.ring});
    }
    return answers;
}

SeamAnswers readSeams(const std::filesystem::path& folder) {
    const auto bytes = readWhole(fileIn(folder), most * sizeof(Entry) + 1024, "file of seams");
    return bytes ? seamsIn(*bytes) : SeamAnswers{};
}

Expected<void> writeSeams(const std::filesystem::path& folder, const SeamAnswers& answers) {
    std::string body;
    for (const auto& [key, answer] : answers.all()) {
        const Entry entry{key.high,        key.low,    answer.later.frames, answer.length.frames,
                          answer.likeness, answer.dip, answer.ruledDip,     answer.ring};
        if (body.size() < most * sizeof(entry))
            body.append(reinterpret_cast<const char*>(&entry), sizeof(entry));
    }
    const std::uint64_t checksum = XXH3_64bits(body.data(), body.size());
    std::string header(mark.begin(), mark.end());
    header.append(reinterpret_cast<const char*>(&checksum), sizeof(checksum));
    std::error_code code;
    std::filesystem::create_directories(folder, code);
    return writeAtomically(fileIn(folder), header + body);
}

} // namespace lampo
