#pragma once

#include "audio/peaks.h"

#include <memory>
#include <optional>
#include <vector>

namespace lampo {

/// What one file's waveform is drawn from: the peak pyramid from afar, the samples themselves from near. Window's
/// thread only.
class WaveSource {
public:
    WaveSource(SourceFile source, SampleRate rate, std::shared_ptr<const Peaks> peaks);

    /// Largest absolute sample, for scaling the lane.
    float loudest() const { return loudest_; }

    /// Announces what will be drawn; reads samples when `framesPerColumn` is below the pyramid's finest step and
    /// they are not at hand yet.
    void prepare(Range<SourceFrame> range, double framesPerColumn);
    /// Lowest and highest sample over `range`, as prepared.
    Extent extent(Range<SourceFrame> range) const;

private:
    SourceFile source_;
    SampleRate rate_;
    std::shared_ptr<const Peaks> peaks_;
    float loudest_;
    std::size_t level_ = 0;
    bool near_ = false;
    SourceFrame begin_;
    std::vector<float> samples_;
};

} // namespace lampo
