#include "player/realtime_output.h"

#include <algorithm>
#include <utility>

namespace lampo {

RealtimeOutput::~RealtimeOutput() {
    while (popReturned()) {
    }
    Stream* stream = nullptr;
    while (incoming_.pop(stream))
        delete stream;
    delete current_;
    delete pending_;
}

bool RealtimeOutput::playing() const {
    const std::int64_t wanted = wanted_.load();
    return wanted != 0 && ended_.load() != wanted;
}

// ---- feeder

bool RealtimeOutput::push(std::unique_ptr<Stream>& stream) {
    if (handed_ == maxStreams || !incoming_.push(stream.get()))
        return false;
    ++handed_;
    (void)stream.release();
    return true;
}

std::unique_ptr<Stream> RealtimeOutput::popReturned() {
    Stream* stream = nullptr;
    if (returned_.pop(stream))
        --handed_;
    return std::unique_ptr<Stream>(stream);
}

// ---- callback: no locks, no allocation, no system calls

void RealtimeOutput::fill(std::span<float> out) {
    const std::int64_t wanted = wanted_.load();
    const bool on = wanted != 0 && ended_.load() != wanted;
    if (!on && !sounding_)
        return silence(out);
    const std::size_t frames = out.size() / 2;
    for (std::size_t done = 0; done < frames;) {
        if (offset_ == blockFrames)
            nextBlock(wanted);
        const std::size_t part = std::min(frames - done, blockFrames - offset_);
        std::copy_n(block_.samples.begin() + static_cast<std::ptrdiff_t>(2 * offset_), 2 * part,
                    out.begin() + static_cast<std::ptrdiff_t>(2 * done));
        offset_ += part;
        done += part;
    }
    if (on)
        return;
    for (std::size_t i = 0; i < frames; ++i) { // the last buffer fades out
        const float gain = 1.0F - static_cast<float>(i + 1) / static_cast<float>(frames);
        out[2 * i] *= gain;
        out[2 * i + 1] *= gain;
    }
    sounding_ = false;
    offset_ = blockFrames;
}

/// What is left of a stream is of no use then: a new run has streams of its own.
void RealtimeOutput::silence(std::span<float> out) {
    std::fill(out.begin(), out.end(), 0.0F);
    giveBack(current_);
}

void RealtimeOutput::giveBack(Stream*& stream) {
    if (stream)
        returned_.push(stream);
    stream = nullptr;
}

/// Looks at the newest stream that was handed over; true when its first block is to be heard now.
bool RealtimeOutput::takesOver(std::int64_t wanted) {
    for (Stream* newer = nullptr; incoming_.pop(newer);) {
        giveBack(pending_);
        pending_ = newer;
    }
    if (!pending_ || pending_->run != wanted)
        return false;
    auto& blocks = pending_->blocks;
    if (heardRun_.load() != wanted) // a new run begins with its first block, however late that comes
        return blocks.read_available() > 0;
    while (blocks.read_available() > 0 && blocks.front().tick < tick_.load())
        blocks.pop(); // came late: its place in the song is over
    return blocks.read_available() > 0 && blocks.front().tick == tick_.load();
}

/// The block of this tick out of the current stream, or silence. Later ones wait: a feeder that fell behind goes on
/// where the ear will be.
bool RealtimeOutput::popCurrent() {
    const std::int64_t wanted = tick_.load();
    while (current_ && current_->blocks.read_available() > 0 && current_->blocks.front().tick <= wanted) {
        current_->blocks.pop(block_);
        if (block_.tick == wanted)
            return true;
    }
    block_.samples.fill(0.0F);
    block_.last = false;
    return false;
}

/// Old fades out while new fades in: the change is heard, the joint is not.
void RealtimeOutput::crossInto(const SoundBlock& newer) {
    for (std::size_t i = 0; i < 2 * blockFrames; ++i) {
        const std::size_t frame = i / 2;
        const float along = static_cast<float>(frame + 1) / static_cast<float>(blockFrames);
        block_.samples[i] += along * (newer.samples[i] - block_.samples[i]);
    }
    block_.tick = newer.tick;
    block_.at = newer.at;
    block_.last = newer.last;
}

void RealtimeOutput::nextBlock(std::int64_t wanted) {
    const bool changing = takesOver(wanted);
    bool found = popCurrent();
    if (changing) {
        crossInto(pending_->blocks.front());
        pending_->blocks.pop();
        giveBack(current_);
        current_ = std::exchange(pending_, nullptr);
        tick_.store(block_.tick);
        found = true;
    }
    tick_.fetch_add(1);
    offset_ = 0;
    sounding_ = sounding_ || found;
    if (!current_ || current_->run != wanted)
        return; // still the run before, or none
    if (found) {
        at_.store(block_.at.frame);
        heardRun_.store(wanted);
        if (block_.last)
            ended_.store(wanted);
    } else if (ended_.load() != wanted) {
        dropouts_.fetch_add(1);
    }
}

} // namespace lampo
