// Preloaded into a program, lets the n-th system call with which it writes fail, or kills it just before that call.
//     LAMPO_FAULT=fail:7 | kill:7 | count:FILE
// Counted are opening to write, writing, syncing, renaming, and closing what was opened to write; not the standard
// streams.
#include <array>
#include <atomic>
#include <cerrno>
#include <csignal>
#include <cstdarg>
#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <dlfcn.h>
#include <fcntl.h>
#include <sys/types.h>
#include <unistd.h>

namespace {

struct Fault {
    enum class Mode { none, fail, kill, count } mode = Mode::none;
    long at = 0;
    const char* file = nullptr;

    Fault() {
        const char* wanted = std::getenv("LAMPO_FAULT");
        const char* argument = wanted ? std::strchr(wanted, ':') : nullptr;
        if (!argument)
            return;
        mode = *wanted == 'f' ? Mode::fail : *wanted == 'k' ? Mode::kill : Mode::count;
        at = std::atol(argument + 1);
        file = argument + 1;
    }
};

const Fault fault;
std::atomic<long> calls = 0;
std::array<std::atomic<bool>, 4096> written; // by descriptor

/// Whether this call is to fail.
bool strikes() {
    const long call = ++calls;
    if (call != fault.at)
        return false;
    if (fault.mode == Fault::Mode::kill)
        ::raise(SIGKILL);
    return fault.mode == Fault::Mode::fail;
}

bool isWritten(int descriptor) {
    return descriptor > 2 && descriptor < static_cast<int>(written.size()) &&
           written[static_cast<std::size_t>(descriptor)];
}

template <class Function>
Function next(const char* name) {
    return reinterpret_cast<Function>(dlsym(RTLD_NEXT, name));
}

int failWith(int error) {
    errno = error;
    return -1;
}

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

extern "C" {

int open(const char* path, int flags, ...) {
    va_list more;
    va_start(more, flags);
    const auto mode = (flags & O_CREAT) != 0 ? va_arg(more, mode_t) : 0;
    va_end(more);
    return opened("open", path, flags, mode);
}

int open64(const char* path, int flags, ...) {
    va_list more;
    va_start(more, flags);
    const auto mode = (flags & O_CREAT) != 0 ? va_arg(more, mode_t) : 0;
    va_end(more);
    return opened("open64", path, flags, mode);
}

ssize_t write(int descriptor, const void* bytes, size_t count) {
    static const auto real = next<ssize_t (*)(int, const void*, size_t)>("write");
    return isWritten(descriptor) && strikes() ? failWith(ENOSPC) : real(descriptor, bytes, count);
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
