#include "timing/bundles.h"

#include <utility>
#include <vector>

namespace lampo {
namespace {

int authorityOf(const Landing& landing) {
    switch (landing.state) {
    case LandingState::pinned:
        return 3;
    case LandingState::landed:
    case LandingState::beyond:
        return 2;
    case LandingState::doubtful:
        return 1;
    case LandingState::left:
        return 0;
    }
    return 0;
}

/// A run of neighbouring hits that move as one. The two ends of the files are runs as well, which never move.
struct Bundle {
    std::size_t hits;  ///< how many
    SourceFrame first; ///< start of the first attack
    SourceFrame last;  ///< start of the last attack
    FrameCount move;
    std::pair<int, double> authority; ///< decides whose move two joined runs take
};

class Bundler {
public:
    explicit Bundler(SampleRate rate)
        : before_(toFrames(keptBefore, rate)), after_(toFrames(keptAfter, rate)),
          fade_(toFrames(shortestFade, rate)) {}

    std::vector<Bundle> join(std::span<const Hit> hits, std::span<const Landing> landings, FrameCount length) {
        constexpr std::pair unmoved{9, 0.0};
        push({0, SourceFrame{0} - after_, SourceFrame{0} - after_, {}, unmoved});
        for (std::size_t i = 0; i < hits.size(); ++i)
            push({1,
                  hits[i].first,
                  hits[i].last,
                  landings[i].move(),
                  {authorityOf(landings[i]), hits[i].level.value}});
        const SourceFrame end = SourceFrame{length.frames} + before_;
        push({0, end, end, {}, unmoved});
        return std::move(bundles_);
    }

private:
    static constexpr std::int64_t maxRepeats = 4;

    bool separable(const Bundle& a, const Bundle& b) const {
        if (a.move == b.move)
            return true;
        const FrameCount played = b.first - a.last;
        const FrameCount opened = b.move - a.move;
        const FrameCount room = played - before_ - after_ - fade_;
        return room.frames >= 0 && room + opened >= FrameCount{0} && opened.frames <= room.frames * maxRepeats;
    }

    void push(Bundle next) {
        while (!bundles_.empty() && !separable(bundles_.back(), next)) {
            const Bundle& last = bundles_.back();
            const Bundle& leader = next.authority > last.authority ? next : last;
            next = {last.hits + next.hits, last.first, next.last, leader.move, leader.authority};
            bundles_.pop_back();
        }
        bundles_.push_back(next);
    }

    FrameCount before_;
    FrameCount after_;
    FrameCount fade_;
    std::vector<Bundle> bundles_;
};

} // namespace

void holdTogether(std::span<const Hit> hits, std::span<Landing> landings, FrameCount length, SampleRate rate) {
    auto landing = landings.begin();
    for (const Bundle& bundle : Bundler(rate).join(hits, landings, length))
        for (std::size_t hit = 0; hit < bundle.hits; ++hit, ++landing) {
            if (landing->move() == bundle.move)
                continue;
            landing->heldTogether = true;
            landing->at = asResult(landing->played) + bundle.move;
            if (landing->state != LandingState::pinned)
                landing->state = LandingState::left;
        }
}

} // namespace lampo
