// Preloaded into a program, makes reading WAV files slow.
//     LAMPO_DISK=disk:12:100     one head: 12 ms for every read that does not go on where the last one ended, and
//                                100 MB a second, one read after the other
//     LAMPO_DISK=network:12:100  the same for every read, but all at once
//     LAMPO_DISK=stall:500:3000  no read is answered for 500 ms, beginning 3,000 ms after the first
#include "faults/preload.h"

#include <array>
#include <atomic>
#include <chrono>
#include <cstdio>
#include <cstring>
#include <fcntl.h>
#include <mutex>
#include <string_view>
#include <sys/types.h>
#include <thread>
#include <unistd.h>

namespace {

using Clock = std::chrono::steady_clock;
using std::chrono::milliseconds;

struct Disk {
    enum class Kind { fast, disk, network, stall } kind = Kind::fast;
    int first = 0;
    int second = 0;

    Disk() {
        const char* wanted = std::getenv("LAMPO_DISK");
        if (!wanted)
            return;
        kind = *wanted == 'd' ? Kind::disk : *wanted == 'n' ? Kind::network : Kind::stall;
        (void)std::sscanf(std::strchr(wanted, ':'), ":%d:%d", &first, &second);
    }
};

const Disk disk;
std::array<std::atomic<bool>, 4096> slow; // by descriptor
std::mutex head;
int lastFile = -1;
off_t lastEnd = 0;

/// Waits as long as the disk would need.
void wait(int descriptor, size_t bytes, off_t at) {
    using Kind = Disk::Kind;
    if (disk.kind == Kind::stall) {
        static const auto begin = Clock::now() + milliseconds(disk.second);
        if (const auto end = begin + milliseconds(disk.first); Clock::now() >= begin && Clock::now() < end)
            std::this_thread::sleep_until(end);
        return;
    }
    const auto moving = std::chrono::duration<double>(static_cast<double>(bytes) / (disk.second * 1e6));
    if (disk.kind == Kind::network)
        return std::this_thread::sleep_for(milliseconds(disk.first) + moving);
    const std::scoped_lock lock(head);
    if (descriptor != lastFile || at != lastEnd)
        std::this_thread::sleep_for(milliseconds(disk.first));
    std::this_thread::sleep_for(moving);
    lastFile = descriptor;
    lastEnd = at + static_cast<off_t>(bytes);
}

bool isSlow(int descriptor) {
    return descriptor >= 0 && descriptor < static_cast<int>(slow.size()) &&
           slow[static_cast<std::size_t>(descriptor)];
}

} // namespace

int opened(const char* name, const char* path, int flags, mode_t mode) {
    static const auto real = next<int (*)(const char*, int, ...)>(name);
    const int descriptor = real(path, flags, mode);
    if (descriptor >= 0 && descriptor < static_cast<int>(slow.size()))
        slow[static_cast<std::size_t>(descriptor)] =
            disk.kind != Disk::Kind::fast && std::string_view(path).ends_with(".wav");
    return descriptor;
}

extern "C" {

ssize_t read(int descriptor, void* into, size_t count) {
    static const auto real = next<ssize_t (*)(int, void*, size_t)>("read");
    const off_t at = isSlow(descriptor) ? ::lseek(descriptor, 0, SEEK_CUR) : 0;
    const ssize_t got = real(descriptor, into, count);
    if (isSlow(descriptor) && got > 0)
        wait(descriptor, static_cast<size_t>(got), at);
    return got;
}

ssize_t pread(int descriptor, void* into, size_t count, off_t at) {
    static const auto real = next<ssize_t (*)(int, void*, size_t, off_t)>("pread");
    const ssize_t got = real(descriptor, into, count, at);
    if (isSlow(descriptor) && got > 0)
        wait(descriptor, static_cast<size_t>(got), at);
    return got;
}

ssize_t pread64(int descriptor, void* into, size_t count, off_t at) {
    return pread(descriptor, into, count, at);
}
}
