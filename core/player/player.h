#pragma once

#include "base/range.h"
#include "player/audio_device.h"
#include "player/mixer.h"
#include "player/stream.h"

#include <atomic>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace lampo {

/// Plays programmes. Three threads: the owner's (all public functions), the feeder (reads files, mixes ahead), and
/// the device's callback, which takes no lock, allocates nothing and touches no file.
///
/// A new programme is taken up where the old one is, with a crossfade of one block and without a gap, a few blocks
/// after it was mixed. If the feeder cannot keep up the callback plays silence and counts it.
class Player {
public:
    explicit Player(std::unique_ptr<AudioDevice> device);
    ~Player();

    std::string deviceName() const { return device_->name(); }

    /// What play() plays; while playing, the sound changes over to it at once. Null stops.
    void setProgramme(std::shared_ptr<const Programme> programme);
    /// Repeats this range, from its begin; an empty range plays on to the end of the song.
    void setLoop(Range<ResultFrame> loop);
    /// Errors: those of the device, the first time.
    Expected<void> play(ResultFrame from);
    void stop();

    bool playing() const { return playing_.load(); }
    /// What is heard now, or where it stopped.
    ResultFrame position() const { return {position_.load()}; }
    /// Blocks of silence played because none was ready in time.
    std::int64_t dropouts() const { return dropouts_.load(); }
    /// The first thing that went wrong while mixing the current programme, or empty.
    std::string trouble() const;

private:
    // ---- feeder
    struct Order {
        std::shared_ptr<const Programme> programme;
        std::optional<ResultFrame> jump; ///< where to begin; none: where it is
    };
    void feed(const std::stop_token& stop);
    void obey(Order order);
    void supply();
    void handOver();
    bool mixBlock();
    ResultFrame wrapped(ResultFrame at) const;
    void discardReturned();

    // ---- callback
    void fill(std::span<float> interleaved);
    void nextBlock();
    bool adoptIncoming();

    std::unique_ptr<AudioDevice> device_;
    std::optional<SampleRate> deviceRate_;
    std::shared_ptr<const Programme> programme_; ///< owner's thread only

    std::atomic<bool> playing_{false};
    std::atomic<std::int64_t> position_{0};
    std::atomic<std::int64_t> tick_{0}; ///< of the block the callback wants next
    std::atomic<std::int64_t> dropouts_{0};

    mutable std::mutex guard_; ///< owner and feeder
    std::condition_variable wake_;
    std::optional<Order> order_;
    Range<ResultFrame> loop_;
    std::string trouble_;

    // Feeder's own.
    std::unique_ptr<Mixer> mixer_;
    std::unique_ptr<Stream> unsent_; ///< not yet handed over: being filled
    Stream* feeding_ = nullptr;      ///< the stream that gets blocks, unsent or in the callback's hands
    std::int64_t nextTick_ = 0;
    ResultFrame nextAt_;
    bool ended_ = true;
    std::int64_t originTick_ = 0; ///< the tick and the place of the last jump: where any tick is in the song
    ResultFrame originAt_;

    // Between feeder and callback: streams go out by one queue and come back by the other to be freed.
    boost::lockfree::spsc_queue<Stream*, boost::lockfree::capacity<16>> incoming_;
    boost::lockfree::spsc_queue<Stream*, boost::lockfree::capacity<64>> returned_;

    // Callback's own.
    Stream* current_ = nullptr;
    Stream* pending_ = nullptr;
    SoundBlock block_;
    std::size_t offset_ = blockFrames;
    bool sounding_ = false;

    std::jthread feeder_;
};

} // namespace lampo
