#include "render/tail_stretcher.h"

#include "base/parallel.h"
#include "render/spectra.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>

namespace lampo {
namespace {

using Bin = std::complex<float>;

constexpr double windowLength = 0.04; ///< s, at least: long enough to tell a kick's ring from a floor tom's
constexpr std::size_t overlap = 8;    ///< frames that sound at any moment
constexpr std::size_t peakReach = 2;  ///< bins: no farther than this is a peak the loudest

std::vector<float> hann(std::size_t size) {
    std::vector<float> window(size);
    for (std::size_t i = 0; i < size; ++i)
        window[i] = static_cast<float>(0.5 - 0.5 * std::cos(2 * std::numbers::pi * (static_cast<double>(i) + 0.5) /
                                                            static_cast<double>(size)));
    return window;
}

/// Where the frames lie, counted from the begin of the tail, as it was recorded and as it becomes.
struct Frames {
    std::int64_t before, tail, length;
    std::size_t size = 0; ///< of a window
    std::int64_t hop = 0; ///< from one to the next, as they sound

    Frames(const std::vector<float>& mic, FrameCount before_, FrameCount length_, SampleRate rate)
        : before(before_.frames), tail(static_cast<std::int64_t>(mic.size()) - before), length(length_.frames),
          size(std::bit_ceil(static_cast<std::size_t>(windowLength * rate.hz))),
          hop(static_cast<std::int64_t>(size / overlap)) {}

    std::int64_t half() const { return static_cast<std::int64_t>(size / 2); }
    std::size_t count() const { return static_cast<std::size_t>((length + 2 * half() + hop - 1) / hop); }
    std::size_t bins() const { return size / 2 + 1; }
    /// Of the middle of one, in the result.
    std::int64_t middle(std::size_t frame) const { return static_cast<std::int64_t>(frame) * hop - half(); }
    /// And in the source; outside the tail as it was recorded.
    std::int64_t source(std::size_t frame) const {
        const std::int64_t at = middle(frame);
        if (at <= 0)
            return at;
        if (at >= length)
            return tail + at - length;
        return std::llround(static_cast<double>(at) * static_cast<double>(tail) / static_cast<double>(length));
    }
};

/// One mic: its spectra, and what they become.
class MicStretcher {
public:
    MicStretcher(const std::vector<float>& sound, const Frames& frames, const std::vector<float>& window)
        : sound_(sound), frames_(frames), window_(window), spectra_(frames.size) {
        double power = 0;
        for (const float sample : sound)
            power += static_cast<double>(sample) * sample;
        weight_ = power > 0 ? static_cast<float>(1 / power) : 0.0F;
    }

    /// Every frame, and what lies a hop before it.
    void analyse() {
        for (std::size_t frame = 0; frame < frames_.count(); ++frame) {
            add(frames_.source(frame), now_);
            add(frames_.source(frame) - frames_.hop, earlier_);
        }
    }
    std::span<const Bin> now(std::size_t frame) const { return part(now_, frame); }
    std::span<const Bin> earlier(std::size_t frame) const { return part(earlier_, frame); }
    float weight() const { return weight_; } ///< by which all mics count alike

    std::vector<float> turned(std::span<const Bin> turns) {
        std::vector<float> out(static_cast<std::size_t>(frames_.length)), covered(out.size());
        for (std::size_t frame = 0; frame < frames_.count(); ++frame) {
            const auto bins = spectra_.bins();
            for (std::size_t k = 0; k < bins.size(); ++k)
                bins[k] = now_[frame * bins.size() + k] * turns[frame * bins.size() + k];
            spectra_.back();
            const auto block = spectra_.block();
            const std::int64_t begin = frames_.middle(frame) - frames_.half();
            for (std::size_t i = 0; i < block.size(); ++i)
                if (const std::int64_t at = begin + static_cast<std::int64_t>(i); at >= 0 && at < frames_.length) {
                    out[static_cast<std::size_t>(at)] += window_[i] * block[i];
                    covered[static_cast<std::size_t>(at)] += window_[i] * window_[i];
                }
        }
        for (std::size_t i = 0; i < out.size(); ++i)
            out[i] /= covered[i] * static_cast<float>(frames_.size);
        return out;
    }

private:
    std::span<const Bin> part(const std::vector<Bin>& all, std::size_t frame) const {
        return std::span(all).subspan(frame * frames_.bins(), frames_.bins());
    }
    /// The spectrum around a place. Behind its end the tail is heard backwards: it does not stop there, and the
    /// next attack is not heard in it.
    void add(std::int64_t middle, std::vector<Bin>& all) {
        const auto block = spectra_.block();
        for (std::size_t i = 0; i < block.size(); ++i) {
            std::int64_t at = middle - frames_.half() + static_cast<std::int64_t>(i);
            if (at >= frames_.tail)
                at = 2 * frames_.tail - 1 - at;
            const bool isThere = -frames_.before <= at && at < frames_.tail;
            block[i] = isThere ? window_[i] * sound_[static_cast<std::size_t>(at + frames_.before)] : 0.0F;
        }
        spectra_.forward();
        all.insert(all.end(), spectra_.bins().begin(), spectra_.bins().end());
    }

    const std::vector<float>& sound_;
    const Frames& frames_;
    const std::vector<float>& window_;
    Spectra spectra_;
    float weight_ = 0;
    std::vector<Bin> now_, earlier_; ///< frames x bins
};

std::vector<std::size_t> peaksOf(std::span<const float> loudness) {
    std::vector<std::size_t> peaks;
    for (std::size_t k = 1; k + 1 < loudness.size(); ++k) {
        const std::size_t begin = k > peakReach ? k - peakReach : 0;
        const auto around = loudness.subspan(begin, std::min(k + peakReach + 1, loudness.size()) - begin);
        if (std::max_element(around.begin(), around.end()) - around.begin() ==
            static_cast<std::ptrdiff_t>(k - begin))
            peaks.push_back(k);
    }
    return peaks;
}

/// By which each bin of each frame is turned in every mic, frames x bins, each of length 1: on from the turn before
/// by the angle between the frame that was heard last and what lies a hop before the frame that is heard now.
std::vector<Bin> turnsOf(std::span<const MicStretcher> mics, const Frames& frames) {
    const std::size_t bins = frames.bins();
    std::vector<Bin> turns(frames.count() * bins, Bin{1, 0});
    std::vector<float> loudness(bins);
    std::vector<Bin> steps(bins);
    for (std::size_t frame = 1; frame < frames.count(); ++frame) {
        std::fill(loudness.begin(), loudness.end(), 0.0F);
        std::fill(steps.begin(), steps.end(), Bin{});
        for (const MicStretcher& mic : mics) {
            const auto last = mic.now(frame - 1), now = mic.now(frame), earlier = mic.earlier(frame);
            for (std::size_t k = 0; k < bins; ++k) {
                steps[k] += mic.weight() * last[k] * std::conj(earlier[k]);
                loudness[k] += mic.weight() * std::norm(now[k]);
            }
        }
        const std::span<const Bin> before = std::span(turns).subspan((frame - 1) * bins, bins);
        const std::span<Bin> here = std::span(turns).subspan(frame * bins, bins);
        const auto peaks = peaksOf(loudness);
        std::size_t from = 1;
        for (std::size_t p = 0; p < peaks.size(); ++p) {
            const Bin step = before[peaks[p]] * steps[peaks[p]];
            const Bin turn = std::abs(step) > 0 ? step / std::abs(step) : before[peaks[p]];
            // Its region ends at the quietest bin before the next peak.
            const auto next =
                loudness.begin() + static_cast<std::ptrdiff_t>(p + 1 < peaks.size() ? peaks[p + 1] : bins - 1);
            const auto end =
                p + 1 < peaks.size()
                    ? std::min_element(loudness.begin() + static_cast<std::ptrdiff_t>(peaks[p]), next) + 1
                    : next;
            for (; from < static_cast<std::size_t>(end - loudness.begin()); ++from)
                here[from] = turn;
        }
    }
    return turns;
}

} // namespace

std::vector<std::vector<float>> stretchTail(std::span<const std::vector<float>> mics, FrameCount before,
                                            FrameCount length, SampleRate rate) {
    const Frames frames(mics.front(), before, length, rate);
    const std::vector<float> window = hann(frames.size);
    std::vector<MicStretcher> stretchers;
    for (const auto& mic : mics)
        stretchers.emplace_back(mic, frames, window);
    forEachIndex(mics.size(), [&](std::size_t mic) { stretchers[mic].analyse(); });
    const std::vector<Bin> turns = turnsOf(stretchers, frames);
    std::vector<std::vector<float>> out(mics.size());
    forEachIndex(mics.size(), [&](std::size_t mic) { out[mic] = stretchers[mic].turned(turns); });
    return out;
}

} // namespace lampo
