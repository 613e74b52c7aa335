#include "fuzz/in_memory.h"
#include "project/kit_layout.h"

using namespace lampo;

/// Kept kits are refused or read.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const test::InMemory file(data, size);
    (void)loadKitLayout(file.path());
    return 0;
}
