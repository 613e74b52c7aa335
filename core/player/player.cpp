#include "player/player.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr std::int64_t changeOverBlocks = 4; ///< how far ahead of the ear a new stream begins
constexpr std::size_t readyBlocks = 6;       ///< mixed before a stream is handed over

} // namespace

Player::Player(std::unique_ptr<AudioDevice> device) : device_(std::move(device)) {
    feeder_ = std::jthread([this](const std::stop_token& stop) { feed(stop); });
}

Player::~Player() {
    device_->stop();
    feeder_.request_stop();
    wake_.notify_all();
    feeder_.join();
    discardReturned();
    Stream* stream = nullptr;
    while (incoming_.pop(stream))
        delete stream;
    delete current_;
    delete pending_;
}

// ---- owner's thread

void Player::setProgramme(std::shared_ptr<const Programme> programme) {
    programme_ = std::move(programme);
    if (!programme_)
        return stop();
    if (!playing())
        return;
    const std::scoped_lock lock(guard_);
    // A jump that was ordered and not yet obeyed stays ordered.
    order_ = Order{programme_, order_ ? order_->jump : std::nullopt};
    wake_.notify_all();
}

void Player::setLoop(Range<ResultFrame> loop) {
    const std::scoped_lock lock(guard_);
    if (loop_ == loop)
        return;
    loop_ = loop;
    if (playing() && programme_ && !order_)
        order_ = Order{programme_, ResultFrame{position_.load()}};
    wake_.notify_all();
}

Expected<void> Player::play(ResultFrame from) {
    if (!programme_)
        return {};
    if (deviceRate_ != programme_->session.rate) {
        if (auto started = device_->start(programme_->session.rate, [this](std::span<float> out) { fill(out); });
            !started)
            return started;
        deviceRate_ = programme_->session.rate;
    }
    const std::scoped_lock lock(guard_);
    order_ = Order{programme_, from};
    position_ = from.frame;
    playing_ = true;
    wake_.notify_all();
    return {};
}

void Player::stop() {
    const std::scoped_lock lock(guard_);
    order_.reset();
    playing_ = false;
}

std::string Player::trouble() const {
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
            obey(std::move(*order));
        if (playing())
            supply();
    }
}

void Player::obey(Order order) {
    mixer_ = std::make_unique<Mixer>(order.programme);
    // Where any later tick lies in the song is known from the last jump, so the new stream goes on exactly where
    // the old one will be.
    nextTick_ = tick_.load() + changeOverBlocks;
    if (order.jump) {
        originTick_ = nextTick_;
        originAt_ = *order.jump;
    }
    nextAt_ = wrapped(originAt_ + FrameCount{(nextTick_ - originTick_) * static_cast<std::int64_t>(blockFrames)});
    ended_ = nextAt_.frame >= mixer_->length().frames;
    unsent_ = std::make_unique<Stream>();
    feeding_ = unsent_.get();
    const std::scoped_lock lock(guard_);
    trouble_.clear();
}

ResultFrame Player::wrapped(ResultFrame at) const {
    const std::scoped_lock lock(guard_);
    // Whole blocks only, so that ticks and places keep step.
    const auto block = static_cast<std::int64_t>(blockFrames);
    const std::int64_t length = std::max(block, (loop_.length().frames + block / 2) / block * block);
    if (loop_.empty() || originAt_ >= loop_.end || at.frame < loop_.begin.frame + length)
        return at;
    return loop_.begin + FrameCount{(at - loop_.begin).frames % length};
}

void Player::supply() {
    while (feeding_ && feeding_->blocks.write_available() > 0 && mixBlock()) {
        handOver();
        const std::scoped_lock lock(guard_);
        if (order_)
            return;
    }
    handOver();
}

/// To the callback, once there is enough in it; again on the next round when the queue is full.
void Player::handOver() {
    if (unsent_ && (ended_ || unsent_->blocks.read_available() >= readyBlocks) && incoming_.push(unsent_.get()))
        (void)unsent_.release();
}

bool Player::mixBlock() {
    if (ended_)
        return false;
    SoundBlock block;
    block.tick = nextTick_++;
    block.at = nextAt_;
    mixer_->mix(nextAt_, block.samples);
    nextAt_ = wrapped(nextAt_ + FrameCount{static_cast<std::int64_t>(blockFrames)});
    ended_ = block.last = nextAt_.frame >= mixer_->length().frames;
    feeding_->blocks.push(block);
    if (!mixer_->trouble().empty()) {
        const std::scoped_lock lock(guard_);
        trouble_ = mixer_->trouble();
    }
    return true;
}

void Player::discardReturned() {
    Stream* stream = nullptr;
    while (returned_.pop(stream)) {
        if (feeding_ == stream)
            feeding_ = nullptr;
        delete stream;
    }
}

// ---- callback: no locks, no allocation, no files

void Player::fill(std::span<float> out) {
    const bool wanted = playing_.load();
    if (!wanted && !sounding_) {
        std::fill(out.begin(), out.end(), 0.0F);
        return;
    }
    const std::size_t frames = out.size() / 2;
    for (std::size_t done = 0; done < frames;) {
        if (offset_ == blockFrames)
            nextBlock();
        const std::size_t part = std::min(frames - done, blockFrames - offset_);
        std::copy_n(block_.samples.begin() + static_cast<std::ptrdiff_t>(2 * offset_), 2 * part,
                    out.begin() + static_cast<std::ptrdiff_t>(2 * done));
        offset_ += part;
        done += part;
    }
    if (!wanted) { // the last buffer after stop() fades out
        for (std::size_t i = 0; i < frames; ++i) {
            const float gain = 1.0F - static_cast<float>(i + 1) / static_cast<float>(frames);
            out[2 * i] *= gain;
            out[2 * i + 1] *= gain;
        }
        sounding_ = false;
        offset_ = blockFrames;
        // What is left of the stream is of no use: a new play() is a new stream.
        if (current_ && returned_.push(current_))
            current_ = nullptr;
    }
}

/// Takes the newest stream that was handed over; true when it has the block that is wanted now.
bool Player::adoptIncoming() {
    Stream* newer = nullptr;
    while (incoming_.pop(newer)) {
        if (pending_)
            returned_.push(pending_);
        pending_ = newer;
    }
    if (!pending_)
        return false;
    const std::int64_t wanted = tick_.load();
    while (pending_->blocks.read_available() > 0 && pending_->blocks.front().tick < wanted)
        pending_->blocks.pop(); // came late: skip what would already have been heard
    return pending_->blocks.read_available() > 0 && pending_->blocks.front().tick == wanted;
}

void Player::nextBlock() {
    const bool changing = adoptIncoming();
    const std::int64_t wanted = tick_.load();
    bool found = false;
    while (current_ && current_->blocks.read_available() > 0 && !found) {
        current_->blocks.pop(block_);
        found = block_.tick == wanted;
    }
    if (!found) {
        block_.samples.fill(0.0F);
        block_.last = false;
    }
    if (changing) {
        // Old fades out while new fades in: the change is heard, the joint is not.
        const SoundBlock& newer = pending_->blocks.front();
        for (std::size_t i = 0; i < 2 * blockFrames; ++i) {
            const std::size_t frame = i / 2;
            const float along = static_cast<float>(frame + 1) / static_cast<float>(blockFrames);
            block_.samples[i] += along * (newer.samples[i] - block_.samples[i]);
        }
        block_.at = newer.at;
        block_.last = newer.last;
        pending_->blocks.pop();
        if (current_)
            returned_.push(current_);
        current_ = std::exchange(pending_, nullptr);
        found = true;
    }
    tick_.store(wanted + 1);
    offset_ = 0;
    if (found) {
        sounding_ = true;
        position_.store(block_.at.frame);
        if (block_.last)
            playing_ = false;
    } else if (sounding_ && playing_.load()) {
        dropouts_.fetch_add(1);
    }
}

} // namespace lampo
