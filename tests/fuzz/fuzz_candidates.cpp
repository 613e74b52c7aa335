#include "fuzz/in_memory.h"
#include "import/folder_import.h"
#include "pipeline/candidate_cache.h"
#include "pipeline/outcome.h"

#include <cstring>
#include <vector>
#include <xxhash.h>

using namespace lampo;

namespace {

/// A kick, of which all is known that the fuzzer says.
Session kickOnly() {
    Session session;
    session.mics = kitOf({"kick"});
    session.takes = {{'A', "/A", {"/A/kick.wav"}, {}, {48000LL * 600}}};
    return session;
}

} // namespace

/// Kept candidates that are damaged are as if there were none; all others lead to hits and a plan.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const Session session = kickOnly();
    // With the checksum that it should have, so that there is something behind it to be read.
    constexpr std::size_t checksumAt = 32, bodyAt = 40;
    std::vector<std::uint8_t> bytes(data, data + size);
    if (size >= bodyAt) {
        const std::uint64_t sum = XXH3_64bits(bytes.data() + bodyAt, size - bodyAt);
        std::memcpy(bytes.data() + checksumAt, &sum, sizeof(sum));
    }
    const test::InMemory file(bytes.data(), bytes.size());
    auto analysis = readCandidates(file.path());
    if (!analysis)
        return 0;
    Analyses analyses;
    analyses.add(analyses.missing(session, Listen::toEveryMic).front(),
                 std::make_shared<const MicAnalysis>(std::move(*analysis)));
    (void)outcomeOf(session, analyses);
    return 0;
}
