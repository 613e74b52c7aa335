#include "hits/cluster.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace lampo {
namespace {

FrameCount distance(const Hit& hit, SourceFrame at) {
    return abs(hit.found() - at);
}

/// What is so much softer than the loudest does not lead, whatever its rank: it may be no more than that one's
/// bleed, and the loudest is what one hears. Common practice, no source.
constexpr Decibels faint{12};

/// The attack that lands.
const Attack& leaderOf(const std::vector<Attack>& attacks, Anchor anchor) {
    const auto loudest = std::max_element(attacks.begin(), attacks.end(),
                                          [](const Attack& a, const Attack& b) { return a.level < b.level; });
    return *std::min_element(attacks.begin(), attacks.end(), [&](const Attack& a, const Attack& b) {
        if (anchor == Anchor::loudest && a.level != b.level)
            return a.level > b.level;
        const auto order = [&](const Attack& each) {
            const bool isFaint = !each.added && each.level.value < loudest->level.value - faint.value;
            return std::tuple(isFaint, each.rank(), each.at);
        };
        return order(a) < order(b);
    });
}

class Obedience {
public:
    Obedience(const Session& session, std::vector<Cluster>& clusters) : session_(session), clusters_(clusters) {}

    bool obey(const Correction& correction) {
        const std::size_t spokenOf = nearest(correction.at);
        if (spokenOf == clusters_.size())
            return false;
        switch (correction.kind) {
        case Correction::Kind::remove:
            clusters_.erase(clusters_.begin() + static_cast<std::ptrdiff_t>(spokenOf));
            return true;
        case Correction::Kind::split:
            return split(spokenOf);
        case Correction::Kind::join:
            return join(spokenOf, nearest(correction.to));
        case Correction::Kind::anchor:
            if (const auto mic = session_.micNamed(correction.mic))
                return clusters_[spokenOf].anchorAt(*mic);
            return false;
        case Correction::Kind::mark:
            return mark(spokenOf, correction.to);
        case Correction::Kind::drum:
            clusters_[spokenOf].hit.voice = correction.voice;
            return true;
        default:
            return true; // pins and places are the landings' business
        }
    }

private:
    std::size_t nearest(SourceFrame at) const {
        const FrameCount tolerance = correctionTolerance(session_.rate);
        const auto from = std::partition_point(clusters_.begin(), clusters_.end(),
                                               [&](const Cluster& c) { return c.hit.found() < at - tolerance; });
        auto best = clusters_.end();
        for (auto c = from; c != clusters_.end() && c->hit.found() <= at + tolerance; ++c)
            if (best == clusters_.end() || distance(c->hit, at) < distance(best->hit, at))
                best = c;
        return static_cast<std::size_t>(best - clusters_.begin());
    }

    bool split(std::size_t index) {
        const Cluster whole = clusters_[index];
        if (whole.attacks.size() < 2)
            return false;
        const auto at = clusters_.erase(clusters_.begin() + static_cast<std::ptrdiff_t>(index));
        std::vector<Cluster> parts;
        for (const Attack& attack : whole.attacks)
            parts.push_back(Cluster::of({attack}, session_.clusters.anchor));
        clusters_.insert(at, parts.begin(), parts.end());
        return true;
    }

    bool join(std::size_t one, std::size_t other) {
        if (other == clusters_.size() || one == other)
            return false;
        auto [first, last] = std::minmax(one, other);
        std::vector<Attack> attacks;
        for (std::size_t c = first; c <= last; ++c)
            attacks.insert(attacks.end(), clusters_[c].attacks.begin(), clusters_[c].attacks.end());
        if (attacks.empty())
            return false;
        clusters_[first] = Cluster::of(std::move(attacks), session_.clusters.anchor);
        clusters_.erase(clusters_.begin() + static_cast<std::ptrdiff_t>(first) + 1,
                        clusters_.begin() + static_cast<std::ptrdiff_t>(last) + 1);
        return true;
    }

    /// Kept between the neighbours, whatever was asked for.
    bool mark(std::size_t index, SourceFrame to) {
        Hit& hit = clusters_[index].hit;
        if (index > 0)
            to = std::max(to, clusters_[index - 1].hit.last + FrameCount{1});
        if (index + 1 < clusters_.size())
            to = std::min(to, clusters_[index + 1].hit.first - FrameCount{1});
        hit.marked = hit.marked + (to - hit.anchor);
        hit.anchor = to;
        hit.first = clusters_[index].attacks.size() > 1 ? std::min(hit.first, to) : to;
        hit.last = std::max(hit.first, clusters_[index].attacks.size() > 1 ? std::max(hit.last, to) : to);
        return true;
    }

    const Session& session_;
    std::vector<Cluster>& clusters_;
};

} // namespace

Cluster Cluster::of(std::vector<Attack> attacks, Anchor anchor) {
    Cluster cluster;
    cluster.attacks = std::move(attacks);
    const Attack& leader = leaderOf(cluster.attacks, anchor);
    Hit& hit = cluster.hit;
    hit = {leader.at,
           leader.grace,
           leader.at,
           leader.mic,
           0,
           leader.voice,
           leader.level,
           leader.added,
           false,
           {},
           leader.aboveThreshold,
           leader.ownDate};
    for (const Attack& attack : cluster.attacks) {
        hit.detectedBy |= onlyMic(attack.mic);
        hit.first = std::min(hit.first, attack.grace);
        hit.last = std::max(hit.last, attack.at);
    }
    if (anchor == Anchor::middle) {
        const auto earliest = std::min_element(cluster.attacks.begin(), cluster.attacks.end(),
                                               [](const Attack& a, const Attack& b) { return a.at < b.at; });
        hit.anchor = earliest->at + FrameCount{(hit.last - earliest->at).frames / 2};
    }
    return cluster;
}

Cluster Cluster::bareCut(SourceFrame at) {
    Cluster cluster;
    cluster.hit = {at, at, at, {}, 0, Voice::other, {0}, true, true, {}, {}, false};
    return cluster;
}

bool Cluster::anchorAt(MicIndex mic) {
    const auto attack = std::find_if(attacks.begin(), attacks.end(), [&](const auto& a) { return a.mic == mic; });
    if (attack == attacks.end())
        return false;
    hit.marked = hit.marked + (attack->at - hit.anchor);
    hit.anchor = attack->at;
    hit.mic = mic;
    hit.voice = attack->voice;
    hit.level = attack->level;
    hit.aboveThreshold = attack->aboveThreshold;
    hit.ownDate = attack->ownDate;
    return true;
}

std::vector<Cluster> joinClusters(std::span<const Attack> attacks, FrameCount window, Anchor anchor) {
    std::vector<Cluster> clusters;
    clusters.reserve(attacks.size());
    std::size_t begin = 0;
    MicSet heard = 0;
    for (std::size_t i = 0; i < attacks.size(); ++i) {
        const bool joins =
            i > begin && attacks[i].at - attacks[begin].at <= window && (heard & onlyMic(attacks[i].mic)) == 0;
        if (!joins && i > begin) {
            clusters.push_back(Cluster::of({attacks.begin() + static_cast<std::ptrdiff_t>(begin),
                                            attacks.begin() + static_cast<std::ptrdiff_t>(i)},
                                           anchor));
            begin = i;
            heard = 0;
        }
        heard |= onlyMic(attacks[i].mic);
    }
    if (begin < attacks.size())
        clusters.push_back(
            Cluster::of({attacks.begin() + static_cast<std::ptrdiff_t>(begin), attacks.end()}, anchor));
    return clusters;
}

std::vector<Correction> obeyCorrections(const Session& session, TakeLetter take, std::vector<Cluster>& clusters) {
    std::vector<Correction> lost;
    Obedience obedience(session, clusters);
    for (const Aspect aspect :
         {Aspect::existence, Aspect::cluster, Aspect::anchor, Aspect::start, Aspect::drum, Aspect::landing})
        for (const Correction& correction : session.corrections) {
            const bool obeyedBefore =
                correction.kind == Correction::Kind::add || correction.kind == Correction::Kind::cut;
            if (correction.take == take && aspectOf(correction.kind) == aspect && !obeyedBefore &&
                !obedience.obey(correction))
                lost.push_back(correction);
        }
    return lost;
}

} // namespace lampo
