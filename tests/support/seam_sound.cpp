#include "support/seam_sound.h"

#include "onsets/band_energies.h"
#include "render/renderer.h"
#include "seams/curve.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace lampo::test {
namespace {

using Sound = std::vector<float>;

constexpr double silence = 2.5e-7; ///< −66 dB: what is softer does not sound

/// Sums of squares up to each frame.
std::vector<double> runningPower(const Sound& sound) {
    std::vector<double> sums(sound.size() + 1);
    for (std::size_t i = 0; i < sound.size(); ++i)
        sums[i + 1] = sums[i] + static_cast<double>(sound[i]) * sound[i];
    return sums;
}

double inDecibels(double powerRatio) {
    return 10 * std::log10(std::max(powerRatio, 1e-20));
}

/// One mic around one seam: what is rendered, and both sides as if they went on.
struct Around {
    Sound out, earlier, later;
    std::size_t begin, end; ///< of the seam
};

struct Levels {
    explicit Levels(const Around& around)
        : out(runningPower(around.out)), earlier(runningPower(around.earlier)), later(runningPower(around.later)) {}
    static double at(const std::vector<double>& sums, std::size_t from, std::size_t length) {
        return (sums[from + length] - sums[from]) / static_cast<double>(length);
    }
    std::vector<double> out, earlier, later;
};

void measureLevels(const Around& around, SampleRate rate, SeamSound& found) {
    const Levels levels(around);
    const auto eight = static_cast<std::size_t>(rate.hz / 125), two = static_cast<std::size_t>(rate.hz / 500);
    for (std::size_t from = around.begin - eight / 2; from + eight / 2 <= around.end; from += two / 8) {
        const double out = Levels::at(levels.out, from, eight), a = Levels::at(levels.earlier, from, eight),
                     b = Levels::at(levels.later, from, eight);
        if (std::min(a, b) < silence)
            continue;
        found.dip = std::max(found.dip, inDecibels(std::min(a, b) / out));
        found.bump = std::max(found.bump, inDecibels(out / std::max(a, b)));
    }
    for (std::size_t from = around.begin - two / 2; from + two / 2 <= around.end; from += two / 8) {
        const double a = Levels::at(levels.earlier, from, two), b = Levels::at(levels.later, from, two);
        if (std::min(a, b) < silence)
            continue;
        const double along = std::clamp((static_cast<double>(from + two / 2) - static_cast<double>(around.begin)) /
                                            static_cast<double>(around.end - around.begin),
                                        0.0, 1.0);
        const double wanted = (1 - along) * inDecibels(a) + along * inDecibels(b);
        found.level = std::max(found.level, std::abs(inDecibels(Levels::at(levels.out, from, two)) - wanted));
    }
}

float largestStep(const Sound& sound, std::size_t from, std::size_t to) {
    float largest = 0;
    for (std::size_t i = std::max<std::size_t>(from, 1); i < to; ++i)
        largest = std::max(largest, std::abs(sound[i] - sound[i - 1]));
    return largest;
}

void measureClick(const Around& around, SeamSound& found) {
    const float inside = largestStep(around.out, around.begin, around.end + 1);
    const float sources = std::max(largestStep(around.earlier, 0, around.earlier.size()),
                                   largestStep(around.later, 0, around.later.size()));
    if (sources > 1e-4F)
        found.click = std::max(found.click, static_cast<double>(inside / sources));
}

/// How much the level above 3.5 kHz changes over 5 ms, frame by frame of 2.5 ms.
void measureRing(const Around& around, SampleRate rate, SeamSound& found) {
    BandMeter meter(rate);
    std::vector<BandEnergies> energies;
    const std::size_t whole = around.out.size() / meter.hop() * meter.hop();
    meter.add(std::span(around.out).first(whole), energies);
    std::vector<double> level;
    for (std::size_t h = 3; h < energies.size(); ++h)
        level.push_back(
            inDecibels((energies[h][3] + energies[h - 1][3] + energies[h - 2][3] + energies[h - 3][3]) / 4));
    std::vector<double> around50;
    double inside = 0;
    for (std::size_t h = 4; h < level.size(); ++h) {
        const std::size_t at = (h + 1) * meter.hop();
        const double change = std::abs(level[h] - level[h - 4]);
        if (at + 2 * meter.hop() >= around.begin && at <= around.end + 4 * meter.hop())
            inside = std::max(inside, change);
        else if (h > 12)
            around50.push_back(change);
    }
    if (around50.empty() || *std::min_element(level.begin() + 8, level.end()) < -70)
        return;
    std::nth_element(around50.begin(), around50.begin() + static_cast<std::ptrdiff_t>(around50.size() * 3 / 4),
                     around50.end());
    found.ring = std::max(found.ring.value_or(0), inside - around50[around50.size() * 3 / 4]);
}

class Listener {
public:
    Listener(const Session& session, const std::shared_ptr<const Plan>& plan)
        : session_(session), plan_(*plan), kit_(std::make_shared<KitReader>(session)), renderer_(plan, kit_) {}

    std::vector<SeamSound> run() {
        std::vector<SeamSound> all;
        for (std::size_t i = 1; i < plan_.segments.size(); ++i)
            if (plan_.segments[i].sounds.begin < plan_.segments[i - 1].sounds.end)
                all.push_back(look(plan_.segments[i - 1], plan_.segments[i]));
        return all;
    }

private:
    SeamSound look(const Segment& earlier, const Segment& later) {
        SeamSound found;
        found.range = {later.sounds.begin, earlier.sounds.end};
        const FrameCount margin{session_.rate.hz / 20};
        const ResultFrame begin = found.range.begin - margin;
        const auto length = static_cast<std::size_t>((found.range.length() + margin + margin).frames);
        std::vector<Sound> out(session_.mics.size(), Sound(length));
        std::vector<std::span<float>> spans(out.begin(), out.end());
        if (!renderer_.render(begin, length, spans))
            return found;
        for (MicIndex mic; mic < session_.mics.size(); ++mic) {
            Around around{out[mic], read(earlier, mic, begin, length), read(later, mic, begin, length),
                          static_cast<std::size_t>(margin.frames),
                          static_cast<std::size_t>((margin + found.range.length()).frames)};
            measureLevels(around, session_.rate, found);
            measureClick(around, found);
            if (session_.mics[mic].role == Role::overhead)
                measureRing(around, session_.rate, found);
        }
        return found;
    }
    Sound read(const Segment& segment, MicIndex mic, ResultFrame at, std::size_t length) {
        return tails_.sound(segment, mic, at, length).value_or(Sound(length));
    }

    const Session& session_;
    const Plan& plan_;
    std::shared_ptr<KitReader> kit_;
    StretchedTails tails_{*kit_};
    Renderer renderer_;
};

/// The mean power that a segment's fades leave of a stretch of its source.
double shareIn(const Segment& segment, std::int64_t from, std::int64_t length) {
    double sum = 0;
    for (std::int64_t i = 0; i < length; ++i) {
        const ResultFrame at = segment.placeOf(SourceFrame{from + i});
        if (at < segment.sounds.begin || at >= segment.sounds.end)
            continue;
        const double in = segment.fadeIn.frames == 0 ? 1
                                                     : static_cast<double>((at - segment.sounds.begin).frames) /
                                                           static_cast<double>(segment.fadeIn.frames);
        const double out = segment.fadeOut.frames == 0 ? 1
                                                       : static_cast<double>((segment.sounds.end - at).frames) /
                                                             static_cast<double>(segment.fadeOut.frames);
        sum += std::min({1.0, in, out});
    }
    return sum / static_cast<double>(length);
}

} // namespace

std::vector<SeamSound> soundsOfSeams(const Session& session, const std::shared_ptr<const Plan>& plan) {
    return Listener(session, plan).run();
}

FollowerFigures followersOf(const RandomKit& kit, const Plan& plan) {
    FollowerFigures figures;
    for (const TrueStroke& stroke : kit.strokes) {
        if (stroke.drum < kit.landed)
            continue;
        double best = 0, second = 0;
        for (const Segment& segment : plan.segments) {
            const double share = shareIn(segment, stroke.at, kit.rate / 100);
            second = std::max(second, std::min(best, share));
            best = std::max(best, share);
        }
        figures.swallowed.add(best < 0.5);
        figures.doubled.add(second > 1.0 / 16);
    }
    return figures;
}

} // namespace lampo::test
