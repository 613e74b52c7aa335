#include "pipeline/candidate_cache.h"

#include "base/limits.h"
#include "base/whole_file.h"

#include <fmt/core.h>
#include <xxhash.h>

#include <algorithm>
#include <array>
#include <cstring>
#include <fstream>
#include <limits>
#include <string_view>
#include <vector>

namespace lampo {
namespace {

/// Changes whenever the finder hears otherwise than before.
constexpr std::uint64_t finderVersion = 5;
constexpr std::array<char, 8> mark{'l', 'a', 'm', 'p', 'o', 'c', '3', '\n'};
constexpr std::uintmax_t largest = 64U << 20;

constexpr std::int64_t notLike = std::numeric_limits<std::int64_t>::min();
constexpr float maxPower = 1e12F; ///< mean square; full scale is 1, and floating point files go above

bool isLevel(double decibels) {
    return -1000 <= decibels && decibels <= 1000; // not so for what is no number
}

struct Header {
    std::array<char, 8> mark;
    std::uint64_t count;
    double strong;
    std::int64_t soundRate; ///< of the file's frames, for AttackSounds; 0: no sounds follow the entries
    std::uint64_t checksum; ///< of all that follows
};
struct Entry {
    std::int64_t at;
    double level;
    double rise;
    BandEnergies added;
    BandEnergies before;
    std::int64_t like; ///< notLike for none

    /// Whether the finder could have written it.
    bool sound() const {
        const auto possible = [](float power) { return 0 <= power && power <= maxPower; };
        return isLevel(level) && isLevel(rise) &&
               (like == notLike || (-limits::frames <= like && like <= limits::frames)) && -limits::frames <= at &&
               at <= limits::frames && std::all_of(added.begin(), added.end(), possible) &&
               std::all_of(before.begin(), before.end(), possible);
    }
};
static_assert(sizeof(Header) == 40 && sizeof(Entry) == 64);

std::uint64_t checksumOf(std::string_view bytes) {
    return XXH3_64bits(bytes.data(), bytes.size());
}

AttackSounds soundsAt(std::int64_t rate) {
    return rate == 0 ? AttackSounds() : AttackSounds(SampleRate{static_cast<int>(rate)});
}

bool isRate(std::int64_t rate) {
    return rate == 0 || (rate >= limits::lowestRate && rate <= limits::highestRate);
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
        return fmt::format("{:016x}{:016x}", sum.high64, sum.low64);
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
    const std::string_view body = std::string_view(*bytes).substr(sizeof(header));
    if (header.mark != mark || !isLevel(header.strong) || !isRate(header.soundRate) ||
        header.count > body.size() / sizeof(Entry) || checksumOf(body) != header.checksum)
        return std::nullopt;
    MicAnalysis analysis{{}, {header.strong}, soundsAt(header.soundRate)};
    const auto entries = static_cast<std::size_t>(header.count);
    if (body.size() != entries * (sizeof(Entry) + analysis.sounds.length()))
        return std::nullopt;
    for (std::size_t i = 0; i < entries; ++i) {
        Entry entry{};
        std::memcpy(&entry, body.data() + i * sizeof(Entry), sizeof(Entry));
        const bool later = analysis.candidates.empty() || entry.at > analysis.candidates.back().at.frame;
        if (!entry.sound() || !later)
            return std::nullopt;
        analysis.candidates.push_back(
            {SourceFrame{entry.at},
             {entry.level},
             {entry.rise},
             entry.added,
             entry.before,
             entry.like == notLike ? std::nullopt : std::optional(SourceFrame{entry.like})});
    }
    const std::string_view sounds = body.substr(entries * sizeof(Entry));
    analysis.sounds.setSamples({sounds.begin(), sounds.end()});
    return analysis;
}

Expected<void> writeCandidates(const std::filesystem::path& file, const MicAnalysis& analysis) {
    std::string body;
    for (const Candidate& candidate : analysis.candidates) {
        const Entry entry{candidate.at.frame,   candidate.level.value,
                          candidate.rise.value, candidate.added,
                          candidate.before,     candidate.like ? candidate.like->frame : notLike};
        body.append(reinterpret_cast<const char*>(&entry), sizeof(entry));
    }
    const auto& sounds = analysis.sounds.samples();
    body.append(sounds.begin(), sounds.end());
    const Header header{mark, analysis.candidates.size(), analysis.strong.value,
                        sounds.empty() ? 0 : analysis.sounds.rate().hz, checksumOf(body)};
    std::error_code code;
    std::filesystem::create_directories(file.parent_path(), code);
    return writeAtomically(file, std::string(reinterpret_cast<const char*>(&header), sizeof(header)) + body);
}

} // namespace lampo
