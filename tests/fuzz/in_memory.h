#pragma once

#include <sys/mman.h>
#include <unistd.h>

#include <cstdint>
#include <filesystem>
#include <string>

namespace lampo::test {

/// A file that is in memory only, for readers that take a path.
class InMemory {
public:
    InMemory(const std::uint8_t* data, std::size_t size) : descriptor_(memfd_create("fuzz", 0)) {
        for (std::size_t done = 0; done < size;) {
            const auto written = write(descriptor_, data + done, size - done);
            if (written <= 0)
                break;
            done += static_cast<std::size_t>(written);
        }
    }
    InMemory(const InMemory&) = delete;
    InMemory& operator=(const InMemory&) = delete;
    ~InMemory() { close(descriptor_); }
    std::filesystem::path path() const { return "/proc/self/fd/" + std::to_string(descriptor_); }

private:
    int descriptor_;
};

} // namespace lampo::test
