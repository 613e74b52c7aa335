#include "seams/tails.h"

#include "base/limits.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr Milliseconds wholeBehindAttack{30};
constexpr Milliseconds shortestTail{20};
// Where much rings, only its end is stretched: as little as keeps what it is stretched by small.
constexpr Milliseconds longTail{200};
constexpr double timesTheHole = 10;
constexpr Milliseconds longestTail{2000}; // nothing rings longer that would be missed

} // namespace

Tails::Tails(const SeamMeasures& measures, SampleRate rate)
    : whole_(std::max(toFrames(wholeBehindAttack, rate), measures.after)), shortest_(toFrames(shortestTail, rate)),
      long_(toFrames(longTail, rate)), most_(toFrames(longestTail, rate)) {}

/// What rings behind one slice up to where the next begins.
Range<SourceFrame> Tails::tailBetween(const Slice& a, const Slice& b) const {
    return {std::max(a.last + whole_, b.begin() - longest_), b.begin()};
}

bool Tails::hasTail(const Slice& a, const Slice& b) const {
    return tailBetween(a, b).length() >= shortest_;
}

/// Both, and the strokes between them that have tails; one slice alone: there is no tail.
void Tails::findSlices(const Slice& a, Slice b, std::span<const SourceFrame> strokes) {
    slices_.assign(1, a);
    for (auto stroke = std::upper_bound(strokes.begin(), strokes.end(), a.last);
         stroke != strokes.end() && *stroke < b.first; ++stroke) {
        const Slice rider{*stroke, *stroke, a.shift, a.slipped, b.leadIn, b.fill};
        if (hasTail(slices_.back(), rider))
            slices_.push_back(rider);
        else
            slices_.back().last = *stroke;
    }
    while (!hasTail(slices_.back(), b) && slices_.size() > 1) {
        b.first = slices_.back().first;
        slices_.pop_back();
    }
    if (hasTail(slices_.back(), b))
        slices_.push_back(b);
}

const std::vector<LongerTail>& Tails::between(const Slice& a, const Slice& b,
                                              std::span<const SourceFrame> strokes) {
    tails_.clear();
    const FrameCount opened = b.shift - a.shift;
    longest_ = std::clamp(scaled(opened, timesTheHole), long_, most_);
    findSlices(a, b, strokes);
    FrameCount rings;
    for (std::size_t i = 1; i < slices_.size(); ++i)
        rings = rings + tailBetween(slices_[i - 1], slices_[i]).length();
    if (rings == FrameCount{0} || ratio(rings + opened, rings) > limits::stretch.high)
        return tails_;
    FrameCount before; // of what rings
    for (std::size_t i = 1; i < slices_.size(); ++i) {
        const Range<SourceFrame> tail = tailBetween(slices_[i - 1], slices_[i]);
        before = before + tail.length();
        slices_[i].shift = a.shift + scaled(opened, ratio(before, rings));
        tails_.push_back(
            {{tail, {tail.begin + slices_[i - 1].shift, tail.end + slices_[i].shift}}, slices_[i].shift});
    }
    return tails_;
}

} // namespace lampo
