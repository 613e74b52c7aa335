// Preloaded into a program, lets the n-th system call with which it writes fail, kills it just before that call,
// or, if it is to write bytes, when half of them are written:
//
//     LAMPO_FAULT=fail:7 | kill:7 | tear:7 | count:FILE
//
// Counted are opening to write, writing, syncing, renaming, and closing what was opened to write; not the standard
// streams.
#include "faults/preload.h"

#include <array>
#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <sys/types.h>
#include <unistd.h>

namespace {

struct Fault {
    enum class Mode { none, fail, kill, tear, count } mode = Mode::none;
    long at = 0;
    const char* file = nullptr;

    Fault() {
        const char* wanted = std::getenv("LAMPO_FAULT");
        const char* argument = wanted ? std::strchr(wanted, ':') : nullptr;
        if (!argument)
            return;
        mode = *wanted == 'f'   ? Mode::fail
               : *wanted == 'k' ? Mode::kill
               : *wanted == 't' ? Mode::tear
                                : Mode::count;
        at = std::atol(argument + 1);
        file = argument + 1;
    }
};

const Fault fault;
std::atomic<long> calls = 0;
std::array<std::atomic<bool>, 4096> written; // by descriptor

/// Whether this call is to fail. `half`: what it would have done by half.
template <class Half>
bool strikes(const Half& half) {
    const long call = ++calls;
    if (call != fault.at)
        return false;
    if (fault.mode == Fault::Mode::tear)
        half();
    if (fault.mode == Fault::Mode::kill || fault.mode == Fault::Mode::tear)
        ::raise(SIGKILL);
    return fault.mode == Fault::Mode::fail;
}
bool strikes() {
    return strikes([] {});
}

bool isWritten(int descriptor) {
    return descriptor > 2 && descriptor < static_cast<int>(written.size()) &&
           written[static_cast<std::size_t>(descriptor)];
}

int failWith(int error) {
    errno = error;
    return -1;
}

struct Report {
    ~Report() {
        if (fault.mode != Fault::Mode::count)
            return;
        if (std::FILE* out = std::fopen(fault.file, "w")) {
            std::fprintf(out, "%ld", calls.load());
            std::fclose(out);
        }
    }
} report;

} // namespace

int opened(const char* name, const char* path, int flags, mode_t mode) {
    static const auto real = next<int (*)(const char*, int, ...)>(name);
    const bool writes = (flags & O_ACCMODE) != O_RDONLY && std::strncmp(path, "/dev/", 5) != 0;
    if (writes && strikes())
        return failWith(EACCES);
    const int descriptor = real(path, flags, mode);
    if (descriptor >= 0 && descriptor < static_cast<int>(written.size()))
        written[static_cast<std::size_t>(descriptor)] = writes;
    return descriptor;
}

extern "C" {

ssize_t write(int descriptor, const void* bytes, size_t count) {
    static const auto real = next<ssize_t (*)(int, const void*, size_t)>("write");
    const auto half = [&] { real(descriptor, bytes, count / 2); };
    return isWritten(descriptor) && strikes(half) ? failWith(ENOSPC) : real(descriptor, bytes, count);
}

int fsync(int descriptor) {
    static const auto real = next<int (*)(int)>("fsync");
    return strikes() ? failWith(EIO) : real(descriptor);
}

int close(int descriptor) {
    static const auto real = next<int (*)(int)>("close");
    const bool strikesNow = isWritten(descriptor) && strikes();
    if (descriptor >= 0 && descriptor < static_cast<int>(written.size()))
        written[static_cast<std::size_t>(descriptor)] = false;
    const int closed = real(descriptor);
    return strikesNow ? failWith(EIO) : closed;
}

int rename(const char* from, const char* to) {
    static const auto real = next<int (*)(const char*, const char*)>("rename");
    return strikes() ? failWith(EIO) : real(from, to);
}

int renameat2(int fromFolder, const char* from, int toFolder, const char* to, unsigned flags) {
    static const auto real = next<int (*)(int, const char*, int, const char*, unsigned)>("renameat2");
    if (std::getenv("LAMPO_NO_EXCHANGE") != nullptr)
        return failWith(EINVAL); // as some file systems do
    return strikes() ? failWith(EIO) : real(fromFolder, from, toFolder, to, flags);
}

int unlink(const char* path) {
    static const auto real = next<int (*)(const char*)>("unlink");
    return strikes() ? failWith(EIO) : real(path);
}
}
