#include "audio/wav_check.h"

#include <array>
#include <cstdint>
#include <cstring>
#include <fstream>

namespace lampo {
namespace {

// Chunk layout: Microsoft/IBM "Multimedia Programming Interface", 1991; ds64: EBU Tech 3306.
std::uint64_t littleEndian(const char* bytes, int count) {
    std::uint64_t value = 0;
    for (int i = count - 1; i >= 0; --i)
        value = value << 8 | static_cast<unsigned char>(bytes[i]);
    return value;
}

} // namespace

bool wavIsTruncated(const std::filesystem::path& file) {
    std::error_code ignored;
    const std::uint64_t fileSize = std::filesystem::file_size(file, ignored);
    std::ifstream in(file, std::ios::binary);
    std::array<char, 12> head{};
    if (ignored || !in.read(head.data(), head.size()) || std::memcmp(head.data() + 8, "WAVE", 4) != 0)
        return false;
    const bool longForm = std::memcmp(head.data(), "RF64", 4) == 0;
    if (!longForm && std::memcmp(head.data(), "RIFF", 4) != 0)
        return false;

    std::uint64_t longDataSize = 0;
    std::uint64_t at = head.size();
    std::array<char, 8> chunk{};
    while (in.seekg(static_cast<std::streamoff>(at)) && in.read(chunk.data(), chunk.size())) {
        std::uint64_t size = littleEndian(chunk.data() + 4, 4);
        at += chunk.size();
        if (std::memcmp(chunk.data(), "ds64", 4) == 0) {
            std::array<char, 16> sizes{};
            if (in.read(sizes.data(), sizes.size()))
                longDataSize = littleEndian(sizes.data() + 8, 8);
        }
        if (std::memcmp(chunk.data(), "data", 4) == 0) {
            // All ones: the length was not known when the header was written (or stands in ds64).
            if (size == 0xFFFFFFFFU)
                size = longForm ? longDataSize : 0;
            return size > fileSize - at;
        }
        at += size + (size & 1U);
    }
    return false;
}

} // namespace lampo
