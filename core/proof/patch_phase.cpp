#include "proof/patch_phase.h"

#include "advice/patch_mics.h"
#include "base/text.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr Milliseconds phaseReach{4};   ///< between two mics of one drum; common practice, no source
constexpr Milliseconds phaseWindow{25}; ///< of an attack; the same

/// How much later b is than a where they are most alike, and how much.
struct Lag {
    std::int64_t frames = 0;
    double likeness = 0;
};
Lag lagBetween(std::span<const float> a, std::span<const float> b, std::int64_t reach) {
    Lag best;
    const std::int64_t count = std::ssize(a) - 2 * reach;
    for (std::int64_t lag = -reach; lag <= reach && count > 0; ++lag) {
        double ab = 0, aa = 0, bb = 0;
        for (std::int64_t i = reach; i < reach + count; ++i) {
            const double x = a[static_cast<std::size_t>(i)], y = b[static_cast<std::size_t>(i + lag)];
            ab += x * y;
            aa += x * x;
            bb += y * y;
        }
        if (const double likeness = std::abs(ab) / std::sqrt(std::max(aa * bb, 1e-20)); likeness > best.likeness)
            best = {lag, likeness};
    }
    return best;
}

} // namespace

Expected<std::vector<ProofPlace>> placesOfPhase(const Session& session, const Outcome& outcome,
                                                const KitSoundMaker& sound, const Progress& progress) {
    std::vector<ProofPlace> places;
    std::unique_ptr<KitSound> own;
    const auto kit = std::make_shared<KitReader>(session);
    const std::int64_t reach = toFrames(phaseReach, session.rate).frames;
    const auto count = static_cast<std::size_t>(toFrames(phaseWindow, session.rate).frames + 2 * reach);
    for (const PlannedPatch& planned : outcome.plan->patches) {
        const Patch& patch = session.patches[planned.patch];
        if (!planned.from || patch.mics.empty())
            continue;
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "The proof was stopped");
        if (!own) {
            auto made = sound(std::make_shared<KitReader>(session));
            if (!made)
                return tl::unexpected(made.error());
            own = std::move(*made);
        }
        // The attack: where the patch has it whole.
        const ResultFrame at = planned.sounds.begin + patch.before - FrameCount{reach};
        double worst = 0;
        std::string pair;
        for (MicIndex patched; patched < session.mics.size(); ++patched) {
            if (!(planned.mics & onlyMic(patched)))
                continue;
            for (const std::string& stem : micsOfDrum(session, patched)) {
                const auto other = session.micNamed(stem);
                if (!other || (planned.mics & onlyMic(*other)))
                    continue;
                std::vector<float> a(count), b(count);
                if (auto read = own->readMic(patched, at, a).and_then([&] { return own->readMic(*other, at, b); });
                    !read)
                    return tl::unexpected(read.error());
                const Lag now = lagBetween(a, b, reach);
                const SourceFrame from = at - planned.from->shift;
                const auto x = kit->frames(planned.from->take, patched, from, count);
                if (!x)
                    return tl::unexpected(x.error());
                const std::vector<float> kept(x->begin(), x->end());
                const auto y = kit->frames(planned.from->take, *other, from, count);
                if (!y)
                    return tl::unexpected(y.error());
                const Lag then = lagBetween(kept, *y, reach);
                const double ms =
                    toMilliseconds(FrameCount{std::abs(now.frames - then.frames)}, session.rate).value;
                if (std::min(now.likeness, then.likeness) > 0.5 && ms > worst) {
                    worst = ms;
                    pair = fmt::format("{} and {}", session.mics[patched].stem, stem);
                }
            }
        }
        if (gravityOf(ProofKind::phase, worst) < toldGravity)
            continue;
        ProofPlace place{
            planned.sounds, ProofKind::phase, worst,
            fmt::format("The delay between {} is {} ms off what was recorded", pair, trimmedNumber(worst, 2)),
            planned.mics};
        place.content = contentOf({static_cast<std::int64_t>(ProofKind::phase), patch.at.at.frame,
                                   patch.from ? patch.from->at.frame : 0, patch.shift.frames});
        place.patch = planned.patch;
        places.push_back(std::move(place));
    }
    return places;
}

} // namespace lampo
