#include "audio/checksums.h"

#include "base/parallel.h"
#include "base/text.h"

#include <xxhash.h>

#include <fmt/core.h>
#include <fstream>
#include <memory>

namespace lampo {
namespace {

Expected<std::string> sumOf(const std::filesystem::path& file, const std::string& called) {
    const auto cannot = [&] {
        return fail(ErrorKind::unreadable,
                    fmt::format("{} could not be read again for its checksum", quotedName(called)));
    };
    std::ifstream in(file, std::ios::binary);
    if (!in)
        return cannot();
    const std::unique_ptr<XXH3_state_t, decltype(&XXH3_freeState)> state(XXH3_createState(), &XXH3_freeState);
    XXH3_128bits_reset(state.get());
    std::vector<char> bytes(1 << 18);
    while (in) {
        in.read(bytes.data(), std::ssize(bytes));
        XXH3_128bits_update(state.get(), bytes.data(), static_cast<std::size_t>(in.gcount()));
    }
    if (in.bad())
        return cannot();
    const XXH128_hash_t hash = XXH3_128bits_digest(state.get());
    return hexadecimal(hash.high64) + hexadecimal(hash.low64);
}

} // namespace

Expected<std::string> checksumList(const std::vector<SummedFile>& files) {
    std::vector<std::string> sums(files.size());
    const auto done = tryEachIndex(files.size(), [&](std::size_t i) {
        return sumOf(files[i].file, files[i].called).map([&](std::string sum) { sums[i] = std::move(sum); });
    });
    return done.map([&] {
        std::string list;
        for (std::size_t i = 0; i < files.size(); ++i)
            list += fmt::format("{}  {}\n", sums[i], files[i].called);
        return list;
    });
}

} // namespace lampo
