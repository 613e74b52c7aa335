#pragma once

#include "audio/audio_reader.h"
#include "base/progress.h"
#include "base/range.h"

#include <vector>

namespace lampo {

/// The lowest and the highest of some samples.
struct Extent {
    float low = 0;  ///< full scale is -1
    float high = 0; ///< full scale is 1
};

/// Lowest and highest sample of every 256, 1,024, 4,096 … frames of one mic: what a waveform is drawn from.
/// Immutable once built, so any thread may read it.
class Peaks {
public:
    static constexpr std::int64_t base = 256; ///< frames per entry of the finest level
    static constexpr int factor = 4;          ///< entries of a level that one entry of the next covers

    /// Reads the whole file once. Errors: those of AudioReader::read, cancelled.
    static Expected<Peaks> build(AudioReader& reader, const Progress& progress);
    /// Of sound that is held in memory, one channel.
    static Peaks ofSamples(std::span<const float> samples);

    /// How many frames they are of.
    FrameCount length() const { return length_; }
    /// Largest absolute sample.
    float loudest() const;

    /// The finest level whose entries are no longer than `framesPerColumn`, or the finest there is.
    std::size_t levelFor(double framesPerColumn) const;
    /// Frames that one entry of a level covers; levels count from the finest, 0.
    std::int64_t framesPerEntry(std::size_t level) const;
    /// All entries of a level, in order.
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
