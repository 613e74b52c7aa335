#include "base/kept_memory.h"

#include <cstdlib>

#ifdef __GLIBC__
#include <malloc.h>
#endif

namespace lampo {

void keepFreedMemory() {
#ifdef __GLIBC__
    mallopt(M_MMAP_THRESHOLD, 32 << 20); // the most that glibc takes
    mallopt(M_TRIM_THRESHOLD, 128 << 20);
#endif
}

} // namespace lampo
