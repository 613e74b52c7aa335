#pragma once

#include "audio/audio_reader.h"

#include <vector>

namespace lampo {

/// Reads a file in large steps and serves small requests, forwards with short jumps back, from memory: what
/// rendering slices asks for. Holds about 2 · step frames whatever the file's length. One thread at a time.
class WindowReader {
public:
    /// `step`: how many frames are read at once.
    explicit WindowReader(AudioReader reader, std::size_t step = 1 << 14);

    /// Of the file as it is, before any change of rate.
    const AudioInfo& info() const { return reader_.info(); }

    /// Whether frames() would not have to read the file.
    bool holds(SourceFrame at, std::size_t count) const {
        const auto offset = (at - begin_).frames;
        return offset >= 0 && static_cast<std::size_t>(offset) + count <= filled_;
    }
    /// Frames [at, at + count), silence outside the file; valid until the next call.
    Expected<std::span<const float>> frames(SourceFrame at, std::size_t count);

private:
    AudioReader reader_;
    std::size_t step_;
    std::vector<float> window_;
    SourceFrame begin_;
    std::size_t filled_ = 0;
};

} // namespace lampo
