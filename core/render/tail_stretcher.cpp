#include "render/tail_stretcher.h"

#include "base/parallel.h"
#include "signal/spectra.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>

namespace lampo {
namespace {

using Bin = std::complex<float>;

constexpr double windowLength = 0.04;    ///< s, at least: long enough to tell a kick's ring from a floor tom's
constexpr std::size_t overlap = 8;       ///< frames that sound at any moment
constexpr std::size_t framesAtOnce = 64; ///< that are analysed before they sound: bounds the memory
constexpr std::size_t peakReach = 2;     ///< bins: no farther than this is a peak the loudest

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
    /// For each sample of one that lies in the tail: where it sounds, and which it is.
    template <class Call>
    void eachInside(std::size_t frame, Call&& call) const {
        const std::int64_t begin = middle(frame) - half();
        const std::int64_t last = std::min(length, begin + static_cast<std::int64_t>(size));
        for (std::int64_t at = std::max<std::int64_t>(0, begin); at < last; ++at)
            call(static_cast<std::size_t>(at), static_cast<std::size_t>(at - begin));
    }
    /// The sum of all windows, twice applied, over each frame of the result.
    std::vector<float> coveredBy(const std::vector<float>& window) const {
        std::vector<float> covered(static_cast<std::size_t>(length));
        for (std::size_t frame = 0; frame < count(); ++frame)
            eachInside(frame, [&](std::size_t at, std::size_t i) { covered[at] += window[i] * window[i]; });
        return covered;
    }
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

/// One mic: its spectra, some frames at a time, and what they become.
class MicStretcher {
public:
    MicStretcher(const std::vector<float>& sound, const Frames& frames, const std::vector<float>& window)
        : sound_(sound), frames_(frames), window_(window), spectra_(frames.size), now_(frames.bins()),
          out_(static_cast<std::size_t>(frames.length)) {
        double power = 0;
        for (const float sample : sound)
            power += static_cast<double>(sample) * sample;
        weight_ = power > 0 ? static_cast<float>(1 / power) : 0.0F;
    }

    /// The next frames, and what lies a hop before each.
    void analyse(std::size_t first, std::size_t count) {
        now_.erase(now_.begin(), now_.end() - static_cast<std::ptrdiff_t>(frames_.bins()));
        earlier_.clear();
        for (std::size_t frame = first; frame < first + count; ++frame) {
            add(frames_.source(frame), now_);
            add(frames_.source(frame) - frames_.hop, earlier_);
        }
    }
    /// Of those analysed last the one at `index`, the one before it, and what lies a hop before it.
    std::span<const Bin> now(std::size_t index) const { return part(now_, index + 1); }
    std::span<const Bin> last(std::size_t index) const { return part(now_, index); }
    std::span<const Bin> earlier(std::size_t index) const { return part(earlier_, index); }
    float weight() const { return weight_; } ///< by which all mics count alike

    /// Lets those analysed last sound, turned.
    void turn(std::size_t first, std::span<const Bin> turns) {
        const auto bins = spectra_.bins();
        for (std::size_t index = 0; index * bins.size() < turns.size(); ++index) {
            const auto heard = now(index);
            for (std::size_t k = 0; k < bins.size(); ++k)
                bins[k] = heard[k] * turns[index * bins.size() + k];
            spectra_.back();
            const auto block = spectra_.block();
            frames_.eachInside(first + index,
                               [&](std::size_t at, std::size_t i) { out_[at] += window_[i] * block[i]; });
        }
    }
    /// What sounds, of which windows cover each frame by so much.
    std::vector<float> finished(std::span<const float> covered) {
        for (std::size_t i = 0; i < out_.size(); ++i)
            out_[i] /= covered[i] * static_cast<float>(frames_.size);
        return std::move(out_);
    }

private:
    std::span<const Bin> part(const std::vector<Bin>& all, std::size_t index) const {
        return std::span(all).subspan(index * frames_.bins(), frames_.bins());
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
    std::vector<Bin> now_;     ///< frames x bins; the first is the last of those before
    std::vector<Bin> earlier_; ///< frames x bins
    std::vector<float> out_;
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

/// Says by what angle each bin is turned in every mic, frame by frame: on from the turn before by the angle between
/// the frame that was heard last and what lies a hop before the frame that is heard now.
class Turns {
public:
    explicit Turns(std::size_t bins) : before_(bins, Bin{1, 0}), loudness_(bins), steps_(bins) {}

    /// Of the frames that the mics analysed last, frames x bins, each of length 1. The first frame of all is not
    /// turned.
    std::vector<Bin> next(std::span<const MicStretcher> mics, std::size_t first, std::size_t count) {
        std::vector<Bin> turns;
        for (std::size_t index = 0; index < count; ++index) {
            if (first + index > 0) {
                listen(mics, index);
                turnOn();
            }
            turns.insert(turns.end(), before_.begin(), before_.end());
        }
        return turns;
    }

private:
    void listen(std::span<const MicStretcher> mics, std::size_t index) {
        std::fill(loudness_.begin(), loudness_.end(), 0.0F);
        std::fill(steps_.begin(), steps_.end(), Bin{});
        for (const MicStretcher& mic : mics) {
            const auto last = mic.last(index), now = mic.now(index), earlier = mic.earlier(index);
            for (std::size_t k = 0; k < steps_.size(); ++k) {
                steps_[k] += mic.weight() * last[k] * std::conj(earlier[k]);
                loudness_[k] += mic.weight() * std::norm(now[k]);
            }
        }
    }
    /// The region of each peak turns as the peak does; it ends at the quietest bin before the next peak.
    void turnOn() {
        const auto peaks = peaksOf(loudness_);
        std::vector<Bin> next(before_.size(), Bin{1, 0});
        std::size_t from = 1;
        for (std::size_t p = 0; p < peaks.size(); ++p) {
            const Bin step = before_[peaks[p]] * steps_[peaks[p]];
            const Bin turn = std::abs(step) > 0 ? step / std::abs(step) : before_[peaks[p]];
            const bool isLast = p + 1 == peaks.size();
            const auto bound =
                loudness_.begin() + static_cast<std::ptrdiff_t>(isLast ? next.size() - 1 : peaks[p + 1]);
            const auto end =
                isLast ? bound
                       : std::min_element(loudness_.begin() + static_cast<std::ptrdiff_t>(peaks[p]), bound) + 1;
            for (; from < static_cast<std::size_t>(end - loudness_.begin()); ++from)
                next[from] = turn;
        }
        before_ = std::move(next);
    }

    std::vector<Bin> before_;
    std::vector<float> loudness_; ///< of each bin, over all mics
    std::vector<Bin> steps_;
};

} // namespace

std::vector<std::vector<float>> stretchTail(std::span<const std::vector<float>> mics, FrameCount before,
                                            FrameCount length, SampleRate rate) {
    const Frames frames(mics.front(), before, length, rate);
    const std::vector<float> window = hann(frames.size), covered = frames.coveredBy(window);
    std::vector<MicStretcher> stretchers;
    for (const auto& mic : mics)
        stretchers.emplace_back(mic, frames, window);
    Turns turns(frames.bins());
    for (std::size_t first = 0; first < frames.count(); first += framesAtOnce) {
        const std::size_t count = std::min(framesAtOnce, frames.count() - first);
        forEachIndex(mics.size(), [&](std::size_t mic) { stretchers[mic].analyse(first, count); });
        const std::vector<Bin> now = turns.next(stretchers, first, count);
        forEachIndex(mics.size(), [&](std::size_t mic) { stretchers[mic].turn(first, now); });
    }
    std::vector<std::vector<float>> out;
    for (MicStretcher& mic : stretchers)
        out.push_back(mic.finished(covered));
    return out;
}

} // namespace lampo
