#pragma once

#include "support/random_kit.h"

#include <string>
#include <vector>

namespace lampo {

/// Which kits a command line asks for: those with a soundfont's sounds, with --harsher harsher than life, with
/// --recorded of recorded drums.
class KitsWanted {
public:
    /// Takes its options out of the arguments.
    explicit KitsWanted(std::vector<std::string>& arguments)
        : harsher_(std::erase(arguments, "--harsher") > 0), recorded_(std::erase(arguments, "--recorded") > 0) {}

    /// The kit of a seed.
    test::RandomKit kit(std::uint64_t seed) const {
        test::Harshness how = harsher_ ? test::harshnessOf(seed) : test::Harshness{};
        if (recorded_)
            how.sounds = test::KitSounds::recordedKits;
        return test::randomKit(seed, 1, how);
    }

private:
    bool harsher_, recorded_;
};

} // namespace lampo
