#include "midi/midi_file.h"

#include <algorithm>
#include <optional>

namespace lampo {
namespace {

constexpr std::size_t maxEvents = 2000000;

/// Reads forward and never beyond the end: after the first read that would, everything is nothing.
class Bytes {
public:
    explicit Bytes(std::string_view bytes) : bytes_(bytes) {}

    bool ended() const { return at_ >= bytes_.size(); }
    bool wentBeyond() const { return short_; }
    std::uint32_t whole(int count) {
        std::uint32_t value = 0;
        for (int i = 0; i < count; ++i)
            value = value << 8 | one();
        return value;
    }
    std::uint8_t one() {
        if (ended()) {
            short_ = true;
            return 0;
        }
        return static_cast<std::uint8_t>(bytes_[at_++]);
    }
    std::uint8_t peek() const { return ended() ? 0 : static_cast<std::uint8_t>(bytes_[at_]); }
    /// A variable-length quantity: seven bits a byte, four bytes at most.
    std::uint32_t quantity() {
        std::uint32_t value = 0;
        for (int i = 0; i < 4; ++i) {
            const std::uint8_t byte = one();
            value = value << 7 | (byte & 0x7F);
            if ((byte & 0x80) == 0)
                return value;
        }
        short_ = true; // longer than the standard allows
        return 0;
    }
    std::string_view take(std::size_t count) {
        if (count > bytes_.size() - std::min(at_, bytes_.size())) {
            short_ = true;
            return {};
        }
        const auto part = bytes_.substr(at_, count);
        at_ += count;
        return part;
    }

private:
    std::string_view bytes_;
    std::size_t at_ = 0;
    bool short_ = false;
};

/// Data bytes of a channel message by its status.
std::size_t dataBytes(std::uint8_t status) {
    const int kind = status >> 4;
    return kind == 0xC || kind == 0xD ? 1 : 2;
}

/// None when the track is not whole.
std::optional<std::vector<MidiEvent>> trackFrom(std::string_view bytes, std::size_t& events) {
    Bytes in(bytes);
    std::vector<MidiEvent> track;
    std::int64_t tick = 0;
    std::uint8_t running = 0;
    while (!in.ended()) {
        tick += in.quantity();
        MidiEvent event{tick};
        event.status = in.peek() & 0x80 ? in.one() : running;
        if (event.status < 0x80 || ++events > maxEvents)
            return std::nullopt;
        if (event.status == 0xFF) {
            event.type = in.one();
            event.data = in.take(in.quantity());
        } else if (event.status == 0xF0 || event.status == 0xF7) {
            event.data = in.take(in.quantity());
            running = 0;
        } else if (event.status > 0xF0) {
            return std::nullopt; // no such event in a file
        } else {
            running = event.status;
            event.data = in.take(dataBytes(event.status));
        }
        if (in.wentBeyond())
            return std::nullopt;
        if (event.isMeta(midi::endOfTrack))
            return track;
        track.push_back(std::move(event));
    }
    return std::nullopt; // no end
}

void append(std::string& out, std::uint32_t value, int count) {
    for (int i = count - 1; i >= 0; --i)
        out += static_cast<char>(value >> (8 * i) & 0xFF);
}

void appendQuantity(std::string& out, std::uint32_t value) {
    for (int shift = 21; shift > 0; shift -= 7)
        if (value >> shift != 0)
            out += static_cast<char>((value >> shift & 0x7F) | 0x80);
    out += static_cast<char>(value & 0x7F);
}

void appendEvent(std::string& out, const MidiEvent& event) {
    out += static_cast<char>(event.status);
    if (event.status == 0xFF)
        out += static_cast<char>(event.type);
    if (event.status >= 0xF0)
        appendQuantity(out, static_cast<std::uint32_t>(event.data.size()));
    out += event.data;
}

} // namespace

Expected<MidiFile> midiFromBytes(std::string_view bytes, const std::string& named) {
    const auto damaged = [&] { return fail(ErrorKind::badValue, named + " is damaged or not a MIDI file"); };
    Bytes in(bytes);
    if (in.take(4) != "MThd")
        return damaged();
    const std::uint32_t headLength = in.whole(4);
    const std::uint32_t format = in.whole(2);
    const std::uint32_t tracks = in.whole(2);
    const std::uint32_t division = in.whole(2);
    if (headLength < 6 || format > 2 || tracks == 0 || division == 0)
        return damaged();
    (void)in.take(headLength - 6);
    if (in.wentBeyond())
        return damaged();
    if (division & 0x8000)
        return fail(ErrorKind::badValue, named + " is timed in film frames, not in notes; export it with a tempo");
    if (format == 2)
        return fail(ErrorKind::badValue, named +
                                             " holds patterns that do not belong together (format 2); export it "
                                             "as format 1");
    MidiFile file{static_cast<int>(division), {}};
    std::size_t events = 0;
    while (file.tracks.size() < tracks && !in.ended()) {
        const auto chunk = in.take(4);
        const auto content = in.take(in.whole(4));
        if (in.wentBeyond())
            return damaged();
        if (chunk != "MTrk")
            continue;
        auto track = trackFrom(content, events);
        if (!track)
            return damaged();
        file.tracks.push_back(std::move(*track));
    }
    return file.tracks.empty() ? Expected<MidiFile>(damaged()) : Expected<MidiFile>(std::move(file));
}

std::string midiBytes(const MidiFile& file) {
    std::string out = "MThd";
    append(out, 6, 4);
    append(out, file.tracks.size() == 1 ? 0 : 1, 2);
    append(out, static_cast<std::uint32_t>(file.tracks.size()), 2);
    append(out, static_cast<std::uint32_t>(file.ticksPerQuarter), 2);
    for (const auto& track : file.tracks) {
        std::string content;
        std::int64_t tick = 0;
        for (const MidiEvent& event : track) {
            appendQuantity(content, static_cast<std::uint32_t>(event.tick - tick));
            appendEvent(content, event);
            tick = event.tick;
        }
        appendQuantity(content, 0);
        appendEvent(content, {0, 0xFF, midi::endOfTrack, {}});
        out += "MTrk";
        append(out, static_cast<std::uint32_t>(content.size()), 4);
        out += content;
    }
    return out;
}

} // namespace lampo
