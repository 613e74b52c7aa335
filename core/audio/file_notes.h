#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// A named place in a file of sound.
struct CuePoint {
    std::int64_t at = 0; ///< frames from the file's begin
    std::string name;    ///< UTF-8
    bool operator==(const CuePoint&) const = default;
};

/// What a chunk "bext" says. Texts are cut to what its fields hold.
struct Broadcast {
    std::string description;        ///< 256 bytes
    std::string originator;         ///< 32 bytes
    std::string date;               ///< yyyy-mm-dd
    std::string time;               ///< hh:mm:ss
    std::int64_t timeReference = 0; ///< frames since midnight of the first one
    std::string codingHistory;      ///< lines that each end with CR LF
    bool operator==(const Broadcast&) const = default;
};

/// What a file of sound says beside its samples.
struct FileNotes {
    std::optional<Broadcast> broadcast{}; ///< where the container holds it
    std::vector<CuePoint> cues{};         ///< ascending
};

// Payloads of chunks, a multiple of four bytes long.

/// "bext", version 1 (EBU Tech 3285).
std::string bextChunk(const Broadcast& broadcast);
/// "cue ", each point in the chunk "data", numbered from 1, and "LIST" of type "adtl" with a label for each
/// (IBM and Microsoft, "Multimedia Programming Interface and Data Specifications 1.0", 1991).
std::string cueChunk(const std::vector<CuePoint>& cues);
std::string labelChunk(const std::vector<CuePoint>& cues);
/// "MARK" (Apple, "Audio Interchange File Format 1.3", 1989). Names are cut to 255 bytes.
std::string markChunk(const std::vector<CuePoint>& cues);

/// Where the time reference stands in a chunk "bext", and how long it is, in bytes.
inline constexpr std::int64_t timeReferenceAt = 338;
inline constexpr std::int64_t timeReferenceBytes = 8;

} // namespace lampo
