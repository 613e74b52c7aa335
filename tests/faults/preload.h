#pragma once

#include <dlfcn.h>
#include <sys/types.h>

/// For libraries that are preloaded into a program and stand in for functions of the C library.

/// The function that is stood in for.
template <class Function>
Function next(const char* name) {
    return reinterpret_cast<Function>(dlsym(RTLD_NEXT, name));
}

/// What open() and open64() become (`name` is which); each library says so itself.
int opened(const char* name, const char* path, int flags, mode_t mode);
