#include "proof/seam_listener.h"

#include "base/text.h"
#include "onsets/band_energies.h"
#include "proof/joined.h"
#include "proof/sound_content.h"
#include "proof/sound_figures.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr double silence = 2.5e-7;        ///< mean square: −66 dB, what is softer does not sound
constexpr float softestStep = 1e-4F;      ///< −80 dB: a step in what is softer is not heard
constexpr Milliseconds margin{50};        ///< of the sound around a joint that it is judged by
constexpr std::int64_t hopsInWindow = 32; ///< of a quarter of a millisecond
constexpr Milliseconds besideJoint{20};   ///< by which the levels of its sides are told; common practice
constexpr Milliseconds shortestSwell{20}; ///< of what sounds again; common practice, no source
constexpr double toldSwell = 4;           ///< dB; common practice, no source
constexpr double bumpAsDip = 1;           ///< dB: a bump of 3 is told like a dip of 4

bool hearsCymbals(Role role) {
    return role == Role::overhead || role == Role::hat || role == Role::cymbal;
}

/// The largest step from sample to sample, and the largest change of it.
struct Steepest {
    float step = 0, bend = 0;
    explicit Steepest(std::span<const float> sound) {
        for (std::size_t i = 1; i < sound.size(); ++i)
            step = std::max(step, std::abs(sound[i] - sound[i - 1]));
        for (std::size_t i = 2; i < sound.size(); ++i)
            bend = std::max(bend, std::abs(sound[i] - 2 * sound[i - 1] + sound[i - 2]));
    }
    Steepest with(const Steepest& other) const {
        Steepest both = *this;
        both.step = std::max(step, other.step);
        both.bend = std::max(bend, other.bend);
        return both;
    }
    /// How much steeper than what is around: a fade of low tones is steep without a bend, which nobody hears.
    double over(const Steepest& around) const {
        return static_cast<double>(
            std::min(step / std::max(around.step, softestStep), bend / std::max(around.bend, softestStep)));
    }
};

/// Mean power of windows of 8 ms, one beginning at every hop.
std::vector<double> levelsOf(std::span<const float> sound, std::size_t hop) {
    std::vector<double> sums(sound.size() / hop + 1);
    for (std::size_t i = 0; i + 1 < sums.size(); ++i) {
        float sum = 0;
        for (const float sample : sound.subspan(i * hop, hop))
            sum += sample * sample;
        sums[i + 1] = sums[i] + static_cast<double>(sum);
    }
    std::vector<double> levels;
    for (std::size_t i = 0; i + hopsInWindow < sums.size(); ++i)
        levels.push_back((sums[i + hopsInWindow] - sums[i]) / static_cast<double>(hopsInWindow * hop));
    return levels;
}

/// How much the level above 3.5 kHz changes over 5 ms: at most from `begin` to `end`, and in three of four places
/// elsewhere.
struct RingChange {
    double inside = 0, around = 0; ///< dB
    bool sounds = false;           ///< all the time
};
RingChange ringChange(std::span<const float> sound, std::size_t begin, std::size_t end, SampleRate rate) {
    BandMeter meter(rate);
    std::vector<BandEnergies> energies;
    meter.add(sound.first(sound.size() / meter.hop() * meter.hop()), energies);
    std::vector<double> level, around;
    for (std::size_t h = 3; h < energies.size(); ++h)
        level.push_back(
            inDecibels((energies[h][3] + energies[h - 1][3] + energies[h - 2][3] + energies[h - 3][3]) / 4));
    constexpr double nothing = -70; // dBFS
    RingChange change;
    change.sounds = level.size() > 16 && *std::min_element(level.begin() + 8, level.end()) > nothing;
    for (std::size_t h = 4; h < level.size(); ++h) {
        const std::size_t at = (h + 1) * meter.hop();
        const double here = std::abs(level[h] - level[h - 4]);
        if (at + 2 * meter.hop() >= begin && at <= end + 4 * meter.hop())
            change.inside = std::max(change.inside, here);
        else if (h > 12)
            around.push_back(here);
    }
    if (around.empty())
        return {};
    const auto three = around.begin() + static_cast<std::ptrdiff_t>(around.size() * 3 / 4);
    std::nth_element(around.begin(), three, around.end());
    change.around = *three;
    return change;
}

/// A joint that is to be listened to: a seam between two segments, or the end of a patch.
struct Joint {
    Range<ResultFrame> range;
    std::optional<std::size_t> segment; ///< the later one of a seam
    std::optional<std::size_t> patch;   ///< index among the planned patches
    std::uint64_t content = 0;
};

std::vector<Joint> jointsOf(const Session& session, const Plan& plan) {
    const SoundContent content(session, plan);
    const FrameCount reach = toFrames(margin, session.rate);
    std::vector<Joint> all;
    const auto add = [&](Range<ResultFrame> range, std::optional<std::size_t> segment,
                         std::optional<std::size_t> patch) {
        all.push_back({range, segment, patch, content.of({range.begin - reach, range.end + reach})});
    };
    for (std::size_t i = 1; i < plan.segments.size(); ++i)
        if (const Range<ResultFrame> range{plan.segments[i].sounds.begin, plan.segments[i - 1].sounds.end};
            !range.empty())
            add(range, i, {});
    for (std::size_t p = 0; p < plan.patches.size(); ++p) {
        const PlannedPatch& patch = plan.patches[p];
        add({patch.sounds.begin, patch.sounds.begin + patch.fadeIn}, {}, p);
        add({patch.sounds.end - patch.fadeOut, patch.sounds.end}, {}, p);
    }
    std::sort(all.begin(), all.end(), [](const Joint& a, const Joint& b) { return a.range.begin < b.range.begin; });
    return all;
}

/// Listens to joints one after another.
class JointListener {
public:
    /// `ownLevels`: the sound's may be others than those of its sources.
    JointListener(const Session& session, const Plan& plan, std::shared_ptr<KitReader> kit, KitSound& sound,
                  bool ownLevels)
        : session_(session), plan_(plan), kit_(std::move(kit)), tails_(*kit_), sound_(sound), ownLevels_(ownLevels),
          hop_(static_cast<std::size_t>(std::max(1, session.rate.hz / 4000))) {}

    Expected<JointHeard> listen(const Joint& joint) {
        const FrameCount around = toFrames(margin, session_.rate);
        const ResultFrame begin = joint.range.begin - around;
        const auto length = static_cast<std::size_t>((joint.range.length() + around + around).frames);
        auto out = stretchOf(sound_, session_.mics.size(), begin, length);
        if (!out)
            return tl::unexpected(out.error());
        const std::size_t from = static_cast<std::size_t>(around.frames),
                          to = from + static_cast<std::size_t>(joint.range.length().frames);
        JointHeard heard;
        for (MicIndex mic; mic < session_.mics.size(); ++mic) {
            if (joint.patch) {
                if (plan_.patches[*joint.patch].mics & onlyMic(mic))
                    judgePatchEnd((*out)[mic], from, to, mic, heard);
                continue;
            }
            const Segment &earlier = plan_.segments[*joint.segment - 1], &later = plan_.segments[*joint.segment];
            auto a = tails_.sound(earlier, mic, begin, length), b = tails_.sound(later, mic, begin, length);
            if (!a || !b)
                return tl::unexpected((a ? b : a).error());
            if (ownLevels_) {
                const auto beside = static_cast<std::size_t>(toFrames(besideJoint, session_.rate).frames);
                bringTo((*out)[mic], *a, from - beside, beside);
                bringTo((*out)[mic], *b, to, beside);
            }
            judgeSeam({(*out)[mic], *a, *b, from, to}, mic, heard);
            const FrameCount opened = later.shift - earlier.shift;
            if (hearsCymbals(session_.mics[mic].role) && goesOnInItsTake(plan_, *joint.segment, session_.rate) &&
                opened > toFrames(shortestSwell, session_.rate) && !earlier.stretch && !later.stretch)
                judgeSwell({(*out)[mic], *a, *b, from, to}, mic, heard);
        }
        return heard;
    }

private:
    struct Around {
        std::span<const float> out, earlier, later;
        std::size_t begin, end; ///< of the joint
    };

    /// A side at the level that the sound has in a stretch beside the joint.
    static void bringTo(std::span<const float> out, std::vector<float>& side, std::size_t from,
                        std::size_t length) {
        const double own = energyOf(std::span(side).subspan(from, length)),
                     now = energyOf(out.subspan(from, length));
        if (own < silence * static_cast<double>(length))
            return;
        constexpr double most = 4; // more is no work on the print, but a fault of it
        const auto gain = static_cast<float>(std::clamp(std::sqrt(now / own), 1 / most, most));
        for (float& sample : side)
            sample *= gain;
    }

    void judgeSeam(const Around& around, MicIndex mic, JointHeard& heard) const {
        const auto out = levelsOf(around.out, hop_), a = levelsOf(around.earlier, hop_),
                   b = levelsOf(around.later, hop_);
        const std::size_t half = hopsInWindow / 2;
        double dip = 0, bump = 0;
        for (std::size_t h = around.begin / hop_ - half; h * hop_ + half * hop_ <= around.end && h < out.size();
             ++h) {
            if (std::min(a[h], b[h]) < silence)
                continue;
            dip = std::max(dip, inDecibels(std::min(a[h], b[h]) / std::max(out[h], 1e-12)));
            bump = std::max(bump, inDecibels(out[h] / std::max(a[h], b[h])));
        }
        heard.dip.add(dip, ProofKind::dip, mic);
        heard.bump.add(bump + bumpAsDip, ProofKind::dip, mic);
        const Steepest inside(around.out.subspan(around.begin - 1, around.end - around.begin + 3)),
            sources = Steepest(around.earlier).with(Steepest(around.later));
        tellStep(inside.over(sources), mic, heard);
        if (hearsCymbals(session_.mics[mic].role))
            heard.ring.add(addedChange(around), ProofKind::swallowedRing, mic);
    }
    /// What neither side does by itself there: a stroke that follows is no fault of the seam.
    double addedChange(const Around& around) const {
        const auto changeOf = [&](std::span<const float> sound) {
            return ringChange(sound, around.begin, around.end, session_.rate);
        };
        const RingChange out = changeOf(around.out), a = changeOf(around.earlier), b = changeOf(around.later);
        return out.sounds ? out.inside - std::max({out.around, a.inside, b.inside}) : 0;
    }
    /// Against all that is steep within 50 ms a fade may be a little steeper.
    static void tellStep(double over, MicIndex mic, JointHeard& heard) {
        constexpr double allowed = 1.5; // common practice, no source
        if (over > allowed)
            heard.click.add(over, ProofKind::click, mic);
    }
    static void judgePatchEnd(std::span<const float> out, std::size_t begin, std::size_t end, MicIndex mic,
                              JointHeard& heard) {
        const Steepest inside(out.subspan(begin - 1, end - begin + 3)),
            around = Steepest(out.first(begin - 1)).with(Steepest(out.subspan(end + 1)));
        tellStep(inside.over(around), mic, heard);
    }
    void judgeSwell(const Around& around, MicIndex mic, JointHeard& heard) const {
        const auto window = static_cast<std::size_t>(hopsInWindow) * hop_;
        const double before = levelOf(around.out.subspan(around.begin - window, window)),
                     behind = levelOf(around.out.subspan(around.end, window));
        if (std::min(before, behind) > inDecibels(silence))
            if (const double swell = behind - before; swell > toldSwell) {
                heard.swell.worst = std::max(heard.swell.worst, swell);
                heard.swell.mics |= onlyMic(mic);
            }
    }

    const Session& session_;
    const Plan& plan_;
    std::shared_ptr<KitReader> kit_;
    StretchedTails tails_;
    KitSound& sound_;
    bool ownLevels_;
    std::size_t hop_; ///< frames
};

class JointPlaces {
public:
    JointPlaces(const Session& session, const Plan& plan) : session_(session), plan_(plan) {}

    void tell(const Joint& joint, const JointHeard& heard) {
        const char* where = joint.patch ? "where a patch begins or ends" : "at a seam";
        add(joint, ProofKind::dip, heard.dip, heard.dip.worst,
            fmt::format("The level sinks by {} dB {}", number(heard.dip.worst), where));
        add(joint, ProofKind::dip, heard.bump, heard.bump.worst,
            fmt::format("The level swells by {} dB {}", number(heard.bump.worst - bumpAsDip), where));
        add(joint, ProofKind::click, heard.click, heard.click.worst,
            fmt::format("A click {}: its step is {} times the steepest around", where, number(heard.click.worst)));
        add(joint, ProofKind::swallowedRing, heard.ring, heard.ring.worst,
            fmt::format("The cymbals' ring jumps by {} dB {}", number(heard.ring.worst), where));
        if (heard.swell.worst > 0) {
            const double again =
                toMilliseconds(plan_.segments[*joint.segment].shift - plan_.segments[*joint.segment - 1].shift,
                               session_.rate)
                    .value;
            add(joint, ProofKind::stutter, heard.swell, again * std::min(1.0, heard.swell.worst / 8),
                fmt::format("{} ms of a tail sound again, and are {} dB louder then", number(again),
                            number(heard.swell.worst)));
        }
    }
    std::vector<ProofPlace> take() { return std::move(found_); }

private:
    static std::string number(double value) { return trimmedNumber(value, value < 10 ? 1 : 0); }
    void add(const Joint& joint, ProofKind kind, const JointHeard::Figure& figure, double size, std::string text) {
        if (figure.mics == 0 || gravityOf(kind, size) < toldGravity)
            return;
        ProofPlace place{
            joint.range, kind,
            size,        std::move(text),
            figure.mics, contentOf({static_cast<std::int64_t>(kind), static_cast<std::int64_t>(joint.content)})};
        place.where.end = std::max(place.where.end, place.where.begin + FrameCount{1});
        if (joint.patch)
            place.patch = plan_.patches[*joint.patch].patch;
        const auto seam = std::find_if(plan_.seams.begin(), plan_.seams.end(),
                                       [&](const Seam& one) { return one.range.begin == joint.range.begin; });
        if (!joint.patch && seam != plan_.seams.end())
            place.seam = SeamIndex{static_cast<std::size_t>(seam - plan_.seams.begin())};
        found_.push_back(std::move(place));
    }

    const Session& session_;
    const Plan& plan_;
    std::vector<ProofPlace> found_;
};

} // namespace

void JointHeard::Figure::add(double size, ProofKind kind, MicIndex mic) {
    worst = std::max(worst, size);
    if (size >= scaleOf(kind).told)
        mics |= onlyMic(mic);
}

Expected<std::vector<ProofPlace>> placesOfJoints(const Session& session, const Outcome& outcome,
                                                 const KitSoundMaker& sound, JointsHeard* known,
                                                 const Progress& progress) {
    const std::vector<Joint> all = jointsOf(session, *outcome.plan);
    const HearEach<JointHeard> each{
        session,
        sound,
        known,
        progress,
        [&](std::size_t joint) { return std::optional(all[joint].content); },
        [&](KitSound& own) {
            const auto listener = std::make_shared<JointListener>(
                session, *outcome.plan, std::make_shared<KitReader>(session), own, known == nullptr);
            return [&all, listener](std::size_t joint) { return listener->listen(all[joint]); };
        }};
    return each.run(all.size()).map([&](const std::vector<std::optional<JointHeard>>& heard) {
        JointPlaces places(session, *outcome.plan);
        for (std::size_t joint = 0; joint < all.size(); ++joint)
            places.tell(all[joint], *heard[joint]);
        return places.take();
    });
}

} // namespace lampo
