#pragma once

#include "base/error.h"
#include "session/session.h"

#include <optional>
#include <string>
#include <variant>

namespace lampo {

/// A drum sample is added, or takes the place of another.
struct PutSample {
    std::optional<std::size_t> index; ///< in Session::samples; none: behind the last
    DrumSample sample;                ///< as it shall be
    std::string what{};               ///< for the history; empty: its name
};
/// A drum sample is taken away.
struct DeleteSample {
    std::size_t index; ///< in Session::samples
};
/// What is said about hits of one sample; each takes the place of what was said about the same hit. What says
/// nothing takes that back.
struct SaySampleHits {
    std::size_t index;           ///< in Session::samples
    std::vector<SampleHit> said; ///< at least one
};

using SampleEdit = std::variant<PutSample, DeleteSample, SaySampleHits>;

/// See edited() and describe() in edit.h.
Expected<void> apply(const SampleEdit& edit, Session& session);
std::string describe(const Session& session, const SampleEdit& edit);

} // namespace lampo
