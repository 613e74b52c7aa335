#pragma once

#include "base/parallel.h"
#include "base/progress.h"
#include "proof/heard_before.h"
#include "proof/kit_sound.h"

#include <algorithm>
#include <atomic>
#include <functional>
#include <memory>
#include <optional>
#include <vector>

namespace lampo {

/// Listens to one thing, by its number.
template <class Value>
using Listener = std::function<Expected<Value>(std::size_t index)>;

/// What many things of one song sound like, on all cores, in order of time: those that were heard before are not
/// listened to again.
template <class Value>
struct HearEach {
    const Session& session;                                               ///< whose sources are read
    const KitSoundMaker& sound;                                           ///< what is listened to
    HeardBefore<Value>* known;                                            ///< null: nothing heard before counts
    const Progress& progress;                                             ///< told, and asked whether to stop
    std::function<std::optional<std::uint64_t>(std::size_t index)> keyOf; ///< none: it is not to be heard
    std::function<Listener<Value>(KitSound& sound)> listenThrough;        ///< one for each thread

    /// One entry for each of `count`; none where there is no key. Errors: those of listening, cancelled.
    Expected<std::vector<std::optional<Value>>> run(std::size_t count) const {
        std::vector<std::optional<Value>> heard(count);
        constexpr std::size_t atOnce = 64; // neighbours, which read the same stretches of the files
        std::atomic<std::size_t> done = 0;
        const auto part = [&](std::size_t number) -> Expected<void> {
            std::unique_ptr<KitSound> own; // made when something has to be listened to
            Listener<Value> listen;
            for (std::size_t index = number * atOnce; index < std::min(count, (number + 1) * atOnce); ++index) {
                if (progress.cancelled())
                    return fail(ErrorKind::cancelled, "The proof was stopped");
                progress.at(static_cast<double>(++done) / static_cast<double>(count));
                const auto key = keyOf(index);
                if (!key)
                    continue;
                if (known)
                    heard[index] = known->of(*key);
                if (heard[index])
                    continue;
                if (!own) {
                    auto made = sound(std::make_shared<KitReader>(session));
                    if (!made)
                        return tl::unexpected(made.error());
                    own = std::move(*made);
                    listen = listenThrough(*own);
                }
                auto value = listen(index);
                if (!value)
                    return tl::unexpected(value.error());
                heard[index] = std::move(*value);
                if (known)
                    known->add(*key, *heard[index]);
            }
            return {};
        };
        return tryEachIndex((count + atOnce - 1) / atOnce, part).map([&] { return std::move(heard); });
    }
};

} // namespace lampo
