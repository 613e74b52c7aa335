#include "player/player.h"

#include <algorithm>
#include <limits>
#include <utility>

namespace lampo {
namespace {

constexpr std::int64_t changeOverBlocks = 4; ///< how far ahead of the ear a new stream begins
constexpr std::size_t readyBlocks = 6;       ///< mixed before a stream is handed over

/// Read and mixed ahead: a disk may be busy for so long, and spin up or seek many times, before a block is missed.
constexpr Seconds readAhead{2};

std::size_t blocksAhead(SampleRate rate) {
    return static_cast<std::size_t>(toFrames(readAhead, rate).frames) / blockFrames;
}

} // namespace

Player::Player(std::unique_ptr<AudioDevice> device)
    : watchdog_(std::move(device), [this](std::span<float> out) { output_.fill(out); }) {
    feeder_ = std::jthread([this](const std::stop_token& stop) { feed(stop); });
}

Player::~Player() {
    feeder_.request_stop();
    wake_.notify_all();
    feeder_.join();
}

// ---- owner's thread

/// The whole wish, so that an order which was not obeyed yet can be replaced and nothing of it is lost.
void Player::order() {
    const std::scoped_lock lock(guard_);
    order_ = Order{programme_, run_, from_, loop_};
    mixedTo_ = 0;
    wake_.notify_all();
}

void Player::setProgramme(std::shared_ptr<const Programme> programme) {
    programme_ = std::move(programme);
    if (!programme_)
        return stop();
    if (playing())
        order();
}

void Player::setLoop(Range<ResultFrame> loop) {
    if (std::exchange(loop_, loop) != loop && playing() && programme_)
        order();
}

void Player::play(ResultFrame from) {
    if (!programme_)
        return;
    ++run_;
    from_ = from;
    order();
    output_.want(run_);
}

void Player::stop() {
    const std::scoped_lock lock(guard_);
    order_.reset();
    output_.want(0);
}

ResultFrame Player::position() const {
    return output_.playedRun() == run_ ? output_.at() : from_;
}

bool Player::isMixedAhead(FrameCount frames) const {
    const std::scoped_lock lock(guard_);
    const std::int64_t heard = output_.playedRun() == run_ ? output_.tick() : 0;
    return !playing() || mixedTo_ >= heard + frames.frames / static_cast<std::int64_t>(blockFrames) + 1;
}

std::string Player::trouble() const {
    if (auto device = watchdog_.trouble(); !device.empty())
        return device;
    const std::scoped_lock lock(guard_);
    return trouble_;
}

// ---- feeder

void Player::feed(const std::stop_token& stop) {
    using namespace std::chrono_literals;
    while (!stop.stop_requested()) {
        std::optional<Order> order;
        {
            std::unique_lock lock(guard_);
            wake_.wait_for(lock, playing() ? 5ms : 50ms,
                           [&] { return order_.has_value() || stop.stop_requested(); });
            order = std::exchange(order_, std::nullopt);
        }
        discardReturned();
        if (order)
            obey(*order);
        if (playing() && mixer_) {
            watchdog_.poll(obeyed_.programme->session.rate, DeviceWatchdog::Clock::now());
            supply();
        }
    }
}

void Player::obey(const Order& order) {
    // Where any later tick lies in the song is known from one tick of the run, so a new stream goes on exactly
    // where the old one will be.
    if (order.run != obeyed_.run) {
        watchdog_.retryNow();
        nextTick_ = originTick_ = 0;
        originAt_ = order.from;
    } else {
        nextTick_ = output_.playedRun() == order.run ? output_.tick() + changeOverBlocks : originTick_;
        if (order.loop != obeyed_.loop) {
            originAt_ = placeOf(nextTick_);
            originTick_ = nextTick_;
        }
    }
    obeyed_ = order;
    mixer_ = std::make_unique<Mixer>(order.programme);
    ended_ = false; // one block at least, so that a run always comes to its end
    unsent_ = std::make_unique<Stream>(order.run, blocksAhead(order.programme->session.rate));
    feeding_ = unsent_.get();
}

ResultFrame Player::placeOf(std::int64_t tick) const {
    // Whole blocks only, so that ticks and places keep step.
    const auto block = static_cast<std::int64_t>(blockFrames);
    const Range<ResultFrame>& loop = obeyed_.loop;
    const std::int64_t length = std::max(block, (loop.length().frames + block / 2) / block * block);
    const ResultFrame at = originAt_ + FrameCount{(tick - originTick_) * block};
    if (loop.empty() || originAt_ >= loop.end || at.frame < loop.begin.frame + length)
        return at;
    return loop.begin + FrameCount{(at - loop.begin).frames % length};
}

void Player::supply() {
    while (feeding_ && feeding_->blocks.write_available() > 0 && mixBlock()) {
        handOver();
        const std::scoped_lock lock(guard_);
        if (order_)
            return;
    }
    handOver();
    const std::scoped_lock lock(guard_);
    if (!order_)
        mixedTo_ = unsent_ ? 0 : ended_ ? std::numeric_limits<std::int64_t>::max() : nextTick_;
}

/// To the callback, once there is enough in it; again on the next round when too many are on their way.
void Player::handOver() {
    if (unsent_ && (ended_ || unsent_->blocks.read_available() >= readyBlocks))
        (void)output_.push(unsent_);
}

/// What the ear has passed need not be mixed any more.
void Player::catchUp() {
    if (output_.playedRun() == obeyed_.run && nextTick_ < output_.tick())
        nextTick_ = output_.tick() + changeOverBlocks;
}

bool Player::mixBlock() {
    if (ended_)
        return false;
    catchUp();
    SoundBlock block;
    block.at = placeOf(nextTick_);
    block.tick = nextTick_++;
    mixer_->mix(block.at, block.samples);
    ended_ = block.last = placeOf(nextTick_).frame >= mixer_->length().frames;
    feeding_->blocks.push(block);
    // Not cleared before a block of the new programme says so: what lasts is not told anew at every edit.
    const std::scoped_lock lock(guard_);
    trouble_ = mixer_->trouble();
    return true;
}

void Player::discardReturned() {
    while (const auto stream = output_.popReturned())
        if (feeding_ == stream.get())
            feeding_ = nullptr;
}

} // namespace lampo
