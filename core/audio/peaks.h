#pragma once

#include "audio/audio_reader.h"
#include "base/progress.h"
#include "base/range.h"

#include <vector>

namespace lampo {

struct Extent {
    float low = 0;
    float high = 0;
};

/// Lowest and highest sample of every 256, 1,024, 4,096 … frames of one mic: what a waveform is drawn from.
/// Immutable once built, so any thread may read it.
class Peaks {
public:
    static constexpr std::int64_t base = 256;
    static constexpr int factor = 4;

    /// Reads the whole file once. Errors: those of AudioReader::read, cancelled.
    static Expected<Peaks> build(AudioReader& reader, const Progress& progress);
    static Peaks ofSamples(std::span<const float> samples);

    FrameCount length() const { return length_; }
    /// Largest absolute sample.
    float loudest() const;

    /// The finest level whose entries are no longer than `framesPerColumn`, or the finest there is.
    std::size_t levelFor(double framesPerColumn) const;
    std::int64_t framesPerEntry(std::size_t level) const;
    std::span<const Extent> entries(std::size_t level) const { return levels_[level]; }

    /// Extent over `range`, read from level `level`, whole entries.
    Extent extent(Range<SourceFrame> range, std::size_t level) const;

private:
    void addBase(std::span<const float> samples);
    void addLevels();

    FrameCount length_;
    std::vector<std::vector<Extent>> levels_{1};
};

} // namespace lampo
