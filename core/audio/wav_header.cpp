#include "audio/wav_header.h"

#include "audio/file_notes.h"
#include "base/limits.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <numeric>
#include <optional>
#include <string_view>

namespace lampo {
namespace {

constexpr int maxChunks = 1000; ///< real files have under twenty; a hostile one may have millions
constexpr std::uint64_t unknownSize = 0xFFFFFFFFU; ///< the length was not known when it was written, or is in ds64

// Chunk layout: Microsoft/IBM "Multimedia Programming Interface", 1991; ds64: EBU Tech 3306.
std::uint64_t littleEndian(std::string_view bytes) {
    return std::accumulate(bytes.rbegin(), bytes.rend(), std::uint64_t{0}, [](std::uint64_t value, char byte) {
        return value << 8 | static_cast<unsigned char>(byte);
    });
}

template <std::size_t count>
std::array<char, count> littleEndian(std::uint64_t value) {
    std::array<char, count> bytes{};
    for (char& byte : bytes) {
        byte = static_cast<char>(value & 0xFFU);
        value >>= 8;
    }
    return bytes;
}

struct Chunk {
    std::array<char, 8> head{};
    std::int64_t begin = 0; ///< of its content
    std::string_view id() const { return {head.data(), 4}; }
    std::uint64_t size() const { return littleEndian(std::string_view(head.data() + 4, 4)); }
};

std::optional<Chunk> chunkAt(FileBytes& bytes, std::int64_t at) {
    Chunk chunk;
    chunk.begin = at + static_cast<std::int64_t>(chunk.head.size());
    return bytes.read(at, chunk.head) == chunk.head.size() ? std::optional(chunk) : std::nullopt;
}

std::int64_t behind(const Chunk& chunk) {
    return chunk.begin + static_cast<std::int64_t>(chunk.size() + (chunk.size() & 1U));
}

/// Whether what follows is other chunks to the end, as in a file that really is without sound.
bool onlyChunksFrom(FileBytes& bytes, std::int64_t at) {
    for (int count = 0; at < bytes.size() && count < maxChunks; ++count) {
        const auto chunk = chunkAt(bytes, at);
        const auto printable = [](char c) { return std::isprint(static_cast<unsigned char>(c)) != 0; };
        if (!chunk || !std::all_of(chunk->head.begin(), chunk->head.begin() + 4, printable))
            return false;
        at = behind(*chunk);
    }
    return at == bytes.size() || at == bytes.size() + 1; // a last odd byte may lack its padding
}

/// Where the length of the data stands, and what it says.
struct DataSize {
    std::int64_t at = 0;
    int bytes = 4;
    std::uint64_t value = 0;
};

WavHeader judged(FileBytes& bytes, const Chunk& data, DataSize said, WavHeader header) {
    const auto there = static_cast<std::uint64_t>(bytes.size() - data.begin);
    header.lacksLength = said.value == 0 && there > 0 && !onlyChunksFrom(bytes, data.begin);
    if (header.lacksLength && said.bytes == 8)
        bytes.overlay(said.at, littleEndian<8>(there));
    else if (header.lacksLength)
        bytes.overlay(said.at, littleEndian<4>(std::min(there, unknownSize - 1)));
    else
        header.breaksOff = said.value != unknownSize && said.value > there;
    return header;
}

/// None where the chunk is too short, or no recording could begin there.
std::optional<std::int64_t> referenceIn(FileBytes& bytes, const Chunk& bext) {
    std::array<char, timeReferenceBytes> reference{};
    if (bext.size() < timeReferenceAt + timeReferenceBytes ||
        bytes.read(bext.begin + timeReferenceAt, reference) != reference.size())
        return std::nullopt;
    const std::uint64_t frames = littleEndian(std::string_view(reference.data(), reference.size()));
    constexpr std::uint64_t longest = std::uint64_t{24} * 3600 * limits::highestRate; // of a day
    return frames <= longest ? std::optional(static_cast<std::int64_t>(frames)) : std::nullopt;
}

} // namespace

WavHeader readWavHeader(FileBytes& bytes) {
    std::array<char, 12> riff{};
    if (bytes.read(0, riff) != riff.size() || std::string_view(riff.data() + 8, 4) != "WAVE")
        return {};
    const std::string_view form(riff.data(), 4);
    if (form == "BW64")
        bytes.overlay(0, std::string_view("RF64"));
    const bool longForm = form == "RF64" || form == "BW64";
    if (!longForm && form != "RIFF")
        return {};
    DataSize longSize;
    WavHeader header;
    auto chunk = chunkAt(bytes, riff.size());
    for (int count = 0; chunk && count < maxChunks; chunk = chunkAt(bytes, behind(*chunk)), ++count) {
        std::array<char, 16> sizes{};
        if (chunk->id() == "ds64" && bytes.read(chunk->begin, sizes) == sizes.size())
            longSize = {chunk->begin + 8, 8, littleEndian(std::string_view(sizes.data() + 8, 8))};
        if (chunk->id() == "bext")
            header.timeReference = referenceIn(bytes, *chunk);
        if (chunk->id() != "data")
            continue;
        if (longForm && longSize.at != 0 && (chunk->size() == unknownSize || chunk->size() == 0))
            return judged(bytes, *chunk, longSize, header);
        return judged(bytes, *chunk, {chunk->begin - 4, 4, chunk->size()}, header);
    }
    return {};
}

} // namespace lampo
