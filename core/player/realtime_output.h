#pragma once

#include "player/stream.h"

#include <atomic>
#include <memory>
#include <span>

namespace lampo {

/// What the audio callback plays from: streams of mixed blocks, changed over without a gap.
///
/// Threads: fill() belongs to the device's callback. It takes no lock, allocates and frees nothing, makes no system
/// call, and is the only one that pops blocks. push() and popReturned() belong to the feeder, want() to the owner;
/// the questions may be asked by any thread. Streams go out by one queue and come back by another to be freed.
class RealtimeOutput {
public:
    RealtimeOutput() = default;
    RealtimeOutput(const RealtimeOutput&) = delete;
    RealtimeOutput& operator=(const RealtimeOutput&) = delete;
    /// No callback may be under way.
    ~RealtimeOutput();

    /// Which run is to be heard; 0 for none, which fades out. What belongs to other runs is not begun any more.
    void want(std::int64_t run) { wanted_.store(run); }

    /// Whether a run is wanted and has not come to its end.
    bool playing() const;
    /// The run that was heard last; 0 before the first. What is asked after it belongs to this run or a later one.
    std::int64_t playedRun() const { return heardRun_.load(); }
    /// Where in the song the block heard now, or last, comes from.
    ResultFrame at() const { return ResultFrame{at_.load()}; }
    /// Of the block that the callback asks for next, in the run that is heard.
    std::int64_t tick() const { return tick_.load(); }
    /// Blocks that were not there in time since the program began; silence was played instead.
    std::int64_t dropouts() const { return dropouts_.load(); }

    /// Passes `stream` on, empty afterwards; leaves it and returns false while too many are on their way.
    bool push(std::unique_ptr<Stream>& stream);
    /// A stream that is not needed any more, or null.
    std::unique_ptr<Stream> popReturned();

    /// The device's callback: interleaved stereo, any number of frames.
    void fill(std::span<float> interleaved);

private:
    void nextBlock(std::int64_t wanted);
    bool takesOver(std::int64_t wanted);
    bool popCurrent();
    void crossInto(const SoundBlock& newer);
    void giveBack(Stream*& stream);
    void silence(std::span<float> interleaved);

    static constexpr std::size_t maxStreams = 64; ///< handed over and not yet taken back

    std::atomic<std::int64_t> wanted_{0};
    std::atomic<std::int64_t> ended_{0};
    std::atomic<std::int64_t> heardRun_{0};
    std::atomic<std::int64_t> at_{0};
    std::atomic<std::int64_t> tick_{0};
    std::atomic<std::int64_t> dropouts_{0};

    // The way back holds all that can be on their way, so giving back cannot fail.
    boost::lockfree::spsc_queue<Stream*, boost::lockfree::capacity<maxStreams>> incoming_;
    boost::lockfree::spsc_queue<Stream*, boost::lockfree::capacity<maxStreams>> returned_;
    std::size_t handed_ = 0; ///< feeder's own

    // Callback's own.
    Stream* current_ = nullptr;
    Stream* pending_ = nullptr;
    SoundBlock block_;
    std::size_t offset_ = blockFrames;
    bool sounding_ = false;
};

} // namespace lampo
