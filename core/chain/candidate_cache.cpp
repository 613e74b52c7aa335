#include "chain/candidate_cache.h"

#include "base/whole_file.h"

#include <xxhash.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <fstream>
#include <vector>

namespace lampo {
namespace {

/// Changes whenever the finder hears otherwise than before.
constexpr std::uint64_t finderVersion = 1;
constexpr std::array<char, 8> mark{'l', 'a', 'm', 'p', 'o', 'c', '1', '\n'};
constexpr std::uintmax_t largest = 64U << 20;

struct Header {
    std::array<char, 8> mark;
    std::uint64_t count;
    double strong;
    std::uint64_t checksum; ///< of the entries
};
struct Entry {
    std::int64_t at;
    double level;
    double rise;
};
static_assert(sizeof(Header) == 32 && sizeof(Entry) == 24);

std::uint64_t checksumOf(const std::vector<Entry>& entries) {
    return XXH3_64bits(entries.data(), entries.size() * sizeof(Entry));
}

class Hash {
public:
    Hash() { XXH3_128bits_reset(state_); }
    ~Hash() { XXH3_freeState(state_); }
    Hash(const Hash&) = delete;
    Hash& operator=(const Hash&) = delete;
    void add(const void* data, std::size_t size) { XXH3_128bits_update(state_, data, size); }
    std::string text() const {
        const XXH128_hash_t sum = XXH3_128bits_digest(state_);
        std::array<char, 33> text{};
        std::snprintf(text.data(), text.size(), "%016llx%016llx", static_cast<unsigned long long>(sum.high64),
                      static_cast<unsigned long long>(sum.low64));
        return text.data();
    }

private:
    XXH3_state_t* state_ = XXH3_createState();
};

} // namespace

std::filesystem::path cacheFolderOf(const std::filesystem::path& project) {
    return project.string() + "-heard";
}

std::optional<std::filesystem::path> cachedCandidates(const std::filesystem::path& folder, const AnalysisKey& key) {
    std::ifstream in(key.source.file, std::ios::binary);
    Hash hash;
    std::vector<char> block(1 << 20);
    while (in.read(block.data(), static_cast<std::streamsize>(block.size())) || in.gcount() > 0)
        hash.add(block.data(), static_cast<std::size_t>(in.gcount()));
    if (!in.eof())
        return std::nullopt;
    const std::array<std::int64_t, 3> place{key.source.channel, key.source.offset.frames, key.rate.hz};
    hash.add(place.data(), sizeof(place));
    hash.add(key.emphasis.data(), sizeof(key.emphasis));
    hash.add(&finderVersion, sizeof(finderVersion));
    return folder / (hash.text() + ".candidates");
}

std::optional<MicAnalysis> readCandidates(const std::filesystem::path& file) {
    const auto bytes = readWhole(file, largest, "candidate file");
    Header header{};
    if (!bytes || bytes->size() < sizeof(header))
        return std::nullopt;
    std::memcpy(&header, bytes->data(), sizeof(header));
    const std::size_t room = (bytes->size() - sizeof(header)) / sizeof(Entry);
    if (header.mark != mark || header.count != room || !std::isfinite(header.strong) ||
        sizeof(header) + room * sizeof(Entry) != bytes->size())
        return std::nullopt;
    std::vector<Entry> entries(room);
    std::copy_n(bytes->data() + sizeof(header), room * sizeof(Entry), reinterpret_cast<char*>(entries.data()));
    if (checksumOf(entries) != header.checksum)
        return std::nullopt;
    MicAnalysis analysis;
    analysis.strong = {header.strong};
    for (const Entry& entry : entries)
        analysis.candidates.push_back({{entry.at}, {entry.level}, {entry.rise}});
    return analysis;
}

Expected<void> writeCandidates(const std::filesystem::path& file, const MicAnalysis& analysis) {
    std::vector<Entry> entries;
    for (const Candidate& candidate : analysis.candidates)
        entries.push_back({candidate.at.frame, candidate.level.value, candidate.rise.value});
    const Header header{mark, entries.size(), analysis.strong.value, checksumOf(entries)};
    std::string bytes(reinterpret_cast<const char*>(&header), sizeof(header));
    bytes.append(reinterpret_cast<const char*>(entries.data()), entries.size() * sizeof(Entry));
    std::error_code code;
    std::filesystem::create_directories(file.parent_path(), code);
    return writeAtomically(file, bytes);
}

} // namespace lampo
