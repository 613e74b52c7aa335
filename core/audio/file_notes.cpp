#include "audio/file_notes.h"

#include <algorithm>
#include <string_view>

namespace lampo {
namespace {

constexpr std::uint16_t bextVersion = 1;
constexpr std::size_t bextReserved = 64 + 190; ///< the UMID, and what later versions use
constexpr std::size_t chunkUnit = 4;           ///< the library makes chunks a multiple of it

void appendLittle(std::string& out, std::uint64_t value, int bytes) {
    for (int i = 0; i < bytes; ++i)
        out += static_cast<char>(value >> 8 * i & 0xFF);
}

void appendBig(std::string& out, std::uint64_t value, int bytes) {
    for (int i = bytes - 1; i >= 0; --i)
        out += static_cast<char>(value >> 8 * i & 0xFF);
}

/// Cut to the field, or filled with zeros.
void appendField(std::string& out, std::string_view text, std::size_t size) {
    out += text.substr(0, size);
    out.append(size - std::min(size, text.size()), '\0');
}

std::string filled(std::string chunk) {
    chunk.append((chunkUnit - chunk.size() % chunkUnit) % chunkUnit, '\0');
    return chunk;
}

} // namespace

std::string bextChunk(const Broadcast& broadcast) {
    std::string chunk;
    appendField(chunk, broadcast.description, 256);
    appendField(chunk, broadcast.originator, 32);
    appendField(chunk, "", 32); // the originator's reference
    appendField(chunk, broadcast.date, 10);
    appendField(chunk, broadcast.time, 8);
    appendLittle(chunk, static_cast<std::uint64_t>(broadcast.timeReference), timeReferenceBytes);
    appendLittle(chunk, bextVersion, 2);
    appendField(chunk, "", bextReserved);
    chunk += broadcast.codingHistory;
    return filled(std::move(chunk));
}

std::string cueChunk(const std::vector<CuePoint>& cues) {
    std::string chunk;
    appendLittle(chunk, cues.size(), 4);
    std::uint32_t number = 0;
    for (const CuePoint& cue : cues) {
        const auto at = static_cast<std::uint64_t>(cue.at);
        appendLittle(chunk, ++number, 4);
        appendLittle(chunk, at, 4); // in play order: the same, where there is no playlist
        chunk += "data";
        appendLittle(chunk, 0, 8); // the chunk's and the block's begin, of a file with one chunk of sound
        appendLittle(chunk, at, 4);
    }
    return chunk;
}

std::string labelChunk(const std::vector<CuePoint>& cues) {
    std::string chunk = "adtl";
    std::uint32_t number = 0;
    for (const CuePoint& cue : cues) {
        const std::string text = filled(cue.name + '\0');
        chunk += "labl";
        appendLittle(chunk, 4 + text.size(), 4);
        appendLittle(chunk, ++number, 4);
        chunk += text;
    }
    return chunk;
}

std::string markChunk(const std::vector<CuePoint>& cues) {
    std::string chunk;
    appendBig(chunk, cues.size(), 2);
    std::uint16_t number = 0;
    for (const CuePoint& cue : cues) {
        const std::string name = cue.name.substr(0, 255);
        appendBig(chunk, ++number, 2);
        appendBig(chunk, static_cast<std::uint64_t>(cue.at), 4);
        chunk += static_cast<char>(name.size());
        chunk += name;
        if (name.size() % 2 == 0)
            chunk += '\0'; // with its length it is even
    }
    return filled(std::move(chunk));
}

} // namespace lampo
