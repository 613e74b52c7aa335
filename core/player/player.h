#pragma once

#include "base/range.h"
#include "mix/mixer.h"
#include "player/device_watchdog.h"
#include "player/realtime_output.h"

#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace lampo {

/// Plays programmes. Three threads: the owner's (all public functions), the feeder (reads files, mixes ahead, keeps
/// the device), and the device's callback (RealtimeOutput::fill).
///
/// A new programme is taken up where the old one is, with a crossfade of one block and without a gap, a few blocks
/// after it was mixed. A jump begins with its first block, as soon as that is there; until then the sound before it
/// goes on. If the feeder cannot keep up, silence is played, counted, and the song goes on in time.
class Player {
public:
    /// Opens no device yet.
    explicit Player(std::unique_ptr<AudioDevice> device);
    ~Player();

    /// For people.
    std::string deviceName() const { return watchdog_.name(); }

    /// What play() plays; while playing, the sound changes over to it at once. Null stops.
    void setProgramme(std::shared_ptr<const Programme> programme);
    /// Repeats this range, from its begin; an empty range plays on to the end of the song.
    void setLoop(Range<ResultFrame> loop);
    /// From this place on, until the end, a stop or another order.
    void play(ResultFrame from);
    /// Silent within a block.
    void stop();

    /// Until it was told to stop, or the end was heard.
    bool playing() const { return output_.playing(); }
    /// What is heard now, or where it stopped, or where it will begin.
    ResultFrame position() const;
    /// Whether the place that was asked for last is not heard yet.
    bool waiting() const { return playing() && output_.playedRun() != run_; }
    /// Whether `frames` beyond what is heard are mixed of what was ordered last, or all to its end.
    bool isMixedAhead(FrameCount frames) const;
    /// Blocks of blockFrames frames that were not there in time, since the program began; each was heard as
    /// silence.
    std::int64_t dropouts() const { return output_.dropouts() + watchdog_.underruns(); }
    /// Why it is not heard as it should be: the device, or the first thing that went wrong in mixing the current
    /// programme. Empty when all is well.
    std::string trouble() const;

private:
    struct Order {
        std::shared_ptr<const Programme> programme;
        std::int64_t run = 0; ///< a new one begins at `from`; the same one goes on where it is
        ResultFrame from;
        Range<ResultFrame> loop;
    };

    // ---- owner
    void order();

    // ---- feeder
    void feed(const std::stop_token& stop);
    void obey(const Order& order);
    void supply();
    void catchUp();
    void handOver();
    bool mixBlock();
    ResultFrame placeOf(std::int64_t tick) const;
    void discardReturned();

    // Owner's own.
    std::shared_ptr<const Programme> programme_;
    std::int64_t run_ = 0; ///< counts what play() began
    ResultFrame from_;
    Range<ResultFrame> loop_;

    mutable std::mutex guard_; ///< owner and feeder
    std::condition_variable wake_;
    std::optional<Order> order_;
    std::int64_t mixedTo_ = 0; ///< tick behind the last block of the latest order that was handed over
    std::string trouble_;

    // Feeder's own.
    std::unique_ptr<Mixer> mixer_;
    Order obeyed_;
    std::unique_ptr<Stream> unsent_; ///< not yet handed over: being filled
    Stream* feeding_ = nullptr;      ///< the stream that gets blocks, unsent or in the callback's hands
    std::int64_t nextTick_ = 0;
    bool ended_ = true;
    std::int64_t originTick_ = 0; ///< a tick of the run and its place: where any later tick is in the song
    ResultFrame originAt_;

    RealtimeOutput output_;
    DeviceWatchdog watchdog_; ///< goes before the output that it fills from
    std::jthread feeder_;
};

} // namespace lampo
