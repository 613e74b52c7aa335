#include "proof/place.h"

#include <xxhash.h>

namespace lampo {

std::uint64_t contentOf(std::initializer_list<std::int64_t> numbers) {
    return XXH3_64bits(numbers.begin(), numbers.size() * sizeof(std::int64_t));
}

} // namespace lampo
