#include "proof/changed_stretch.h"

#include "proof/scale.h"
#include "proof/sound_figures.h"
#include "signal/sliding_products.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace lampo {
namespace {

// All of these: common practice, no source, tried on planted faults.
constexpr Milliseconds shortest{3};  ///< what is shorter is a click or an attack
constexpr Milliseconds aDip{150};    ///< a change of level that lasts longer is one
constexpr Milliseconds aRing{60};    ///< cymbals that are gone for longer are cut off
constexpr Milliseconds aRest{600};   ///< and for longer than this their mic is silent
constexpr Milliseconds compared{80}; ///< of the sound that is looked for elsewhere
constexpr double gone = -26;         ///< dB against the expected power
constexpr double sameSound = 0.9;    ///< correlation
constexpr double clearly = 0.2;      ///< what a lag leaves of what does not correlate without it

double correlation(std::span<const float> a, std::span<const float> b) {
    double ab = 0;
    for (std::size_t i = 0; i < a.size(); ++i)
        ab += double{a[i]} * b[i];
    return ab / std::sqrt(std::max(energyOf(a) * energyOf(b), 1e-30));
}

/// Where a sound is found in a longer one.
struct Found {
    std::size_t at = 0; ///< its begin there
    double likeness = 0;
};
Found findIn(std::span<const float> whole, std::span<const float> part) {
    const std::vector<float> products = slidingProducts(whole, part);
    std::vector<double> sums(whole.size() + 1);
    for (std::size_t i = 0; i < whole.size(); ++i)
        sums[i + 1] = sums[i] + double{whole[i]} * whole[i];
    const double own = energyOf(part);
    Found best;
    for (std::size_t at = 0; at + part.size() <= whole.size(); ++at) {
        const double there = sums[at + part.size()] - sums[at];
        const double like = static_cast<double>(products[at]) / std::sqrt(std::max(own * there, 1e-20));
        if (there > 1e-3 * own && like > best.likeness)
            best = {at, like};
    }
    return best;
}

class Judge {
public:
    explicit Judge(const ChangedStretch& stretch) : s_(stretch) {
        for (std::size_t i = 0; i < s_.heard.size(); ++i)
            residual_.push_back(s_.heard[i] - s_.expected[i]);
        attacks_ = attacksIn(s_.begin - std::min(s_.begin, frames({4})), s_.end);
        attacks_.insert(attacks_.end(), s_.attacks.begin(), s_.attacks.end());
    }

    Change judge() const {
        const bool isGone = usualChange() < gone;
        if (isGone && length() >= frames({50}))
            return gap();
        if (const auto lost = lostAttack(isGone))
            return *lost;
        if (length() <= frames(shortest))
            return click();
        if (isGone)
            return gap();
        if (edges() >= 0.9)
            return click();
        if (const auto moved = elsewhere())
            return *moved;
        if (const auto level = otherLevel())
            return *level;
        if (heardPower() > 1.5 * expectedPower())
            return {
                ProofKind::doubledAttack, 24 + std::min(0.0, inDecibels(residualPower() / loudestAround())), {}};
        if (s_.hearsCymbals && length() >= frames(aRing))
            return {ProofKind::swallowedRing, std::max(deepest(), scaleOf(ProofKind::swallowedRing).told), {}};
        if (deepest() >= scaleOf(ProofKind::dip).told)
            return {ProofKind::dip, deepest(), {}};
        return click();
    }

private:
    std::size_t frames(Milliseconds time) const { return static_cast<std::size_t>(toFrames(time, s_.rate).frames); }
    std::size_t length() const { return s_.end - s_.begin; }
    std::span<const float> part(std::span<const float> sound) const { return sound.subspan(s_.begin, length()); }
    double expectedPower() const { return energyOf(part(s_.expected)); }
    double heardPower() const { return energyOf(part(s_.heard)); }
    double residualPower() const { return energyOf(part(residual_)); }
    double loudestAround() const {
        const std::size_t window = std::min(length(), s_.expected.size());
        double loudest = 1e-12;
        for (std::size_t at = 0; at + window <= s_.expected.size(); at += std::max<std::size_t>(1, window / 2))
            loudest = std::max(loudest, energyOf(s_.expected.subspan(at, window)));
        return loudest;
    }

    /// Where the expected sound rises steeply, whoever struck: the edit's marks may lack strokes.
    std::vector<std::size_t> attacksIn(std::size_t from, std::size_t to) const {
        std::vector<std::size_t> attacks;
        const std::size_t hop = std::max<std::size_t>(1, frames({0.5})), window = 6, back = 40;
        std::vector<double> sums{0}; // of hops, then of windows of 3 ms
        for (std::size_t at = 0; at + hop <= s_.expected.size(); at += hop)
            sums.push_back(sums.back() + energyOf(s_.expected.subspan(at, hop)));
        std::vector<double> powers;
        for (std::size_t h = 0; h + window < sums.size(); ++h)
            powers.push_back(sums[h + window] - sums[h]);
        if (powers.size() <= back)
            return attacks;
        const double loudest = *std::max_element(powers.begin(), powers.end());
        constexpr double rise = 6, soft = 0.03; // 8 dB over all of the last 20 ms; 15 dB below the loudest
        std::size_t best = 0;
        double steepest = rise;
        for (std::size_t h = std::max(back, from / hop); h < powers.size() && h * hop < to; ++h) {
            const auto now = powers.begin() + static_cast<std::ptrdiff_t>(h);
            const double before = *std::max_element(now - static_cast<std::ptrdiff_t>(back),
                                                    now - static_cast<std::ptrdiff_t>(window) + 1);
            const double rises = powers[h] / std::max(before, 1e-15);
            if (powers[h] > soft * loudest && rises > steepest) {
                steepest = rises;
                best = h;
            } else if (rises < rise && best > 0) {
                attacks.push_back(best * hop);
                best = 0;
                steepest = rise;
            }
        }
        if (best > 0)
            attacks.push_back(best * hop);
        return attacks;
    }

    /// What the first milliseconds of an expected attack lost.
    std::optional<Change> lostAttack(bool isGone) const {
        double most = 0;
        for (const std::size_t attack : attacks_)
            for (const double ms : {2.0, 4.0, 8.0, 15.0}) {
                const std::size_t from = attack - std::min(attack, frames({0.5})), to = attack + frames({ms});
                if (to > s_.expected.size() || to <= s_.begin || attack + frames({15}) <= s_.begin ||
                    from >= s_.end || attack > s_.begin + frames({6}))
                    continue; // what is gone long before an attack is no lost attack
                const auto expected = s_.expected.subspan(from, to - from),
                           heard = s_.heard.subspan(from, to - from);
                const auto quiet =
                    s_.expected.subspan(from - std::min(from, expected.size()), std::min(from, expected.size()));
                if (energyOf(expected) < 4 * energyOf(quiet))
                    continue; // no attack there yet
                most = std::max(most, inDecibels(energyOf(expected) / std::max(energyOf(heard), 1e-12)));
            }
        if (most < scaleOf(ProofKind::lostAttack).told || length() > frames(aDip) || (!isGone && elsewhere()))
            return std::nullopt;
        return Change{ProofKind::lostAttack, most, {}};
    }

    Change gap() const {
        const double ms = 1000.0 * static_cast<double>(length()) / s_.rate.hz;
        if (s_.hearsCymbals && length() < frames(aRest))
            return length() < frames({50}) ? Change{ProofKind::dip, 30, {}}
                                           : Change{ProofKind::swallowedRing, 30, {}};
        return ms < scaleOf(ProofKind::silent).told ? Change{ProofKind::dip, 30, {}}
                                                    : Change{ProofKind::silent, ms, {}};
    }

    /// dB by which windows of 2 ms usually changed.
    double usualChange() const {
        const std::size_t window = std::min(frames({2}), length());
        std::vector<double> changes;
        for (std::size_t at = s_.begin; at + window <= s_.end; at += window)
            changes.push_back(inDecibels(std::max(energyOf(s_.heard.subspan(at, window)), 1e-12) /
                                         std::max(energyOf(s_.expected.subspan(at, window)), 1e-12)));
        return medianOf(std::move(changes));
    }

    /// The steepest step of what was added, against the steepest of the sound around.
    Change click() const {
        const auto steepest = [](std::span<const float> sound) {
            float step = 0;
            for (std::size_t i = 1; i < sound.size(); ++i)
                step = std::max(step, std::abs(sound[i] - sound[i - 1]));
            return double{step};
        };
        const std::size_t near = frames({5});
        const std::size_t from = s_.begin - std::min(s_.begin, near),
                          to = std::min(s_.end + near, s_.expected.size());
        const std::size_t before = s_.begin - std::min<std::size_t>(s_.begin, 1),
                          behind = std::min(s_.end + 1, residual_.size());
        const double around = std::max(steepest(s_.expected.subspan(from, to - from)), 1e-5);
        return {ProofKind::click, steepest(std::span(residual_).subspan(before, behind - before)) / around, {}};
    }

    /// How much of the edges of what was added lies within one millisecond.
    double edges() const {
        const std::size_t window = frames({1});
        std::vector<double> sums{0};
        for (std::size_t i = std::max<std::size_t>(s_.begin, 1); i < std::min(s_.end + 1, residual_.size()); ++i)
            sums.push_back(sums.back() + std::pow(double{residual_[i]} - residual_[i - 1], 2));
        double best = 0;
        for (std::size_t i = 0; i + 1 < sums.size(); ++i)
            best = std::max(best, sums[std::min(i + window, sums.size() - 1)] - sums[i]);
        return best / std::max(sums.back(), 1e-30);
    }

    /// dB by which the quietest 8 ms sink.
    double deepest() const { return extreme(false); }
    double extreme(bool up) const {
        const std::size_t window = std::min(frames({8}), length());
        double most = 0;
        for (std::size_t at = s_.begin; at + window <= s_.end; at += std::max<std::size_t>(1, window / 8)) {
            const double change = inDecibels(std::max(energyOf(s_.heard.subspan(at, window)), 1e-12) /
                                             std::max(energyOf(s_.expected.subspan(at, window)), 1e-12));
            most = std::max(most, up ? change : -change);
        }
        return most;
    }

    /// The same sound, louder or softer.
    std::optional<Change> otherLevel() const {
        const double alike = correlation(part(residual_), part(s_.expected));
        // What is made louder may be clipped: then it is still the same sound, for long.
        const bool lasts = length() >= frames(aDip) && correlation(part(s_.heard), part(s_.expected)) > sameSound;
        if (std::abs(alike) < sameSound && !lasts)
            return std::nullopt;
        const bool up = alike > 0;
        if (length() < frames(aDip)) {
            if (!up && s_.hearsCymbals && length() >= frames(aRing))
                return Change{ProofKind::swallowedRing, deepest(), {}};
            return Change{ProofKind::dip, extreme(up) + (up ? 1 : 0), {}};
        }
        // A level stays where it is; what rings out too soon does not.
        const std::size_t third = length() / 3;
        const auto change = [&](std::size_t at) {
            return inDecibels(std::max(energyOf(s_.heard.subspan(at, third)), 1e-12) /
                              std::max(energyOf(s_.expected.subspan(at, third)), 1e-12));
        };
        const double first = change(s_.begin), last = change(s_.begin + 2 * third);
        if (!up && s_.hearsCymbals && std::abs(first - last) > 6)
            return Change{ProofKind::swallowedRing, deepest(), {}};
        return Change{ProofKind::level, std::abs(inDecibels(heardPower() / std::max(expectedPower(), 1e-12))), {}};
    }

    /// What is heard was expected at another place, or is added from there.
    std::optional<Change> elsewhere() const {
        if (length() < frames({4}))
            return std::nullopt;
        const std::size_t fades = length() > frames({12}) ? frames({5}) : 0; // of who changed it
        const std::size_t window = std::min(frames(compared), length() - fades);
        std::optional<Change> again;
        for (const std::size_t at : freshWindows(window))
            for (const bool whole : {true, false})
                if (const auto change = foundElsewhere(at, window, whole)) {
                    if (change->moved)
                        return change; // what moved is heard again nowhere: that says most
                    again = again ? again : change;
                }
        return again;
    }
    /// The windows, apart from one another, that hold most of what was not expected there.
    std::vector<std::size_t> freshWindows(std::size_t window) const {
        std::vector<std::pair<double, std::size_t>> all;
        const std::size_t fade = (length() - window) / 2;
        for (std::size_t at = s_.begin + std::min(fade, frames({3})); at + window <= s_.end;
             at += std::max<std::size_t>(1, window / 4)) {
            const double heard = energyOf(s_.heard.subspan(at, window)),
                         added = energyOf(std::span(residual_).subspan(at, window));
            if (added > 0.01 * heard)
                all.emplace_back(heard + 0.1 * added, at);
        }
        std::sort(all.begin(), all.end(), std::greater<>());
        std::vector<std::size_t> best;
        constexpr std::size_t most = 3;
        for (const auto& [power, at] : all)
            if (best.size() < most && std::none_of(best.begin(), best.end(), [&, at = at](std::size_t other) {
                    return at < other + window && other < at + window;
                }))
                best.push_back(at);
        return best;
    }
    /// `whole`: all that is heard comes from there; otherwise what was added to what was expected.
    std::optional<Change> foundElsewhere(std::size_t at, std::size_t window, bool whole) const {
        const std::span<const float> sound =
            whole ? s_.heard.subspan(at, window) : std::span(residual_).subspan(at, window);
        const double here = correlation(s_.expected.subspan(at, window), sound);
        if (whole && energyOf(sound) < 0.03 * energyOf(s_.expected.subspan(at, window)))
            return std::nullopt; // next to nothing is heard
        if (!whole && here < -0.7)
            return std::nullopt; // taken away, not added
        const Found found = findIn(s_.expected, sound);
        if (found.at == at || found.likeness < sameSound ||
            1 - found.likeness * found.likeness > clearly * (1 - (whole ? here * here : 0)))
            return std::nullopt;
        return moved(at, found.at, window, whole);
    }
    Change moved(std::size_t to, std::size_t from, std::size_t window, bool whole) const {
        const FrameCount lag{static_cast<std::int64_t>(to) - static_cast<std::int64_t>(from)};
        const std::size_t first = std::max(from, s_.begin), last = std::min(from + window, s_.end);
        const bool stillThere = !whole || last < first + window / 4; // where it comes from, it is as it was
        if (std::abs(lag.frames) <= toFrames(Milliseconds{5}, s_.rate).frames && whole)
            return {ProofKind::phase, toMilliseconds(abs(lag), s_.rate).value, lag};
        if (!stillThere)
            return {ProofKind::loose, toMilliseconds(abs(lag), s_.rate).value, lag};
        // What sounds again: an attack, or only what rings.
        const auto holdsAttack = [&](const std::vector<std::size_t>& attacks) {
            return std::any_of(attacks.begin(), attacks.end(), [&](std::size_t attack) {
                const std::int64_t again = static_cast<std::int64_t>(attack) + lag.frames;
                return again + static_cast<std::int64_t>(frames({1})) >= static_cast<std::int64_t>(s_.begin) &&
                       again + static_cast<std::int64_t>(frames({3})) < static_cast<std::int64_t>(s_.end);
            });
        };
        const std::size_t source = s_.begin < to ? from - std::min(from, to - s_.begin) : from;
        if (holdsAttack(s_.attacks) ||
            holdsAttack(attacksIn(source, std::min(source + length(), s_.expected.size()))))
            return {ProofKind::doubledAttack,
                    24 + std::min(0.0, inDecibels(energyOf(whole ? s_.heard.subspan(to, window)
                                                                 : std::span(residual_).subspan(to, window)) /
                                                  std::max(energyOf(s_.expected.subspan(from, window)), 1e-12))),
                    {}};
        return {ProofKind::stutter, 1000.0 * static_cast<double>(length()) / s_.rate.hz, {}};
    }

    const ChangedStretch& s_;
    std::vector<float> residual_;
    std::vector<std::size_t> attacks_; ///< that are expected near what changed
};

} // namespace

Change changeIn(const ChangedStretch& stretch) {
    return Judge(stretch).judge();
}

} // namespace lampo
