#include "interchange/timeline_json.h"

#include "base/text.h"
#include "project/json_fields.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

namespace lampo {
namespace {

using namespace jsonfields;

constexpr std::int64_t longest = limits::frames;
constexpr const char* ours = "lampo"; ///< in metadata
constexpr const char* media = "DEFAULT_MEDIA";

// ---- URLs (RFC 3986): bytes that mean something in them, or are no ASCII, as % and two hexadecimal digits

std::string escaped(const std::string& path) {
    constexpr std::string_view plain = "-._~/";
    constexpr std::string_view digits = "0123456789ABCDEF";
    std::string url;
    for (const char c : path) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 0x80 && (std::isalnum(byte) != 0 || plain.find(c) != std::string_view::npos))
            url += c;
        else
            url += {'%', digits[byte >> 4U], digits[byte & 0xFU]};
    }
    return url;
}

std::string unescaped(std::string_view url) {
    const auto digit = [](char c) {
        const auto byte = static_cast<unsigned char>(c);
        if (std::isxdigit(byte) == 0)
            throw Damage{"a file's address is none"};
        return std::isdigit(byte) != 0 ? byte - '0' : std::tolower(byte) - 'a' + 10;
    };
    std::string path;
    for (std::size_t i = 0; i < url.size(); ++i) {
        if (url[i] != '%') {
            path += url[i];
            continue;
        }
        if (i + 2 >= url.size())
            throw Damage{"a file's address is none"};
        path += static_cast<char>(digit(url[i + 1]) * 16 + digit(url[i + 2]));
        i += 2;
    }
    return path;
}

constexpr std::string_view fileScheme = "file://";

std::string urlOf(const std::filesystem::path& file, const std::filesystem::path& folder) {
    const auto relative = file.lexically_relative(folder);
    const bool below = !relative.empty() && *relative.begin() != "..";
    return below ? escaped(relative.generic_string()) : std::string(fileScheme) + escaped(file.generic_string());
}

std::filesystem::path fileOf(const std::string& url, const std::filesystem::path& folder) {
    if (url.starts_with(fileScheme))
        return unescaped(std::string_view(url).substr(fileScheme.size()));
    return folder / unescaped(url);
}

// ---- writing

class Writer {
public:
    Writer(const EditTimeline& timeline, const std::filesystem::path& folder)
        : timeline_(timeline), folder_(folder) {}

    json timeline() const {
        json tracks = json::array();
        for (const Lane& lane : timeline_.lanes)
            tracks.push_back(track(lane));
        json stack = object("Stack.1", "tracks");
        stack["source_range"] = nullptr;
        stack["effects"] = json::array();
        stack["markers"] = json::array();
        stack["enabled"] = true;
        stack["children"] = std::move(tracks);
        for (const TimelineMarker& marker : timeline_.markers) {
            json each = object("Marker.2", asUtf8(marker.name));
            each["color"] = "RED";
            each["comment"] = "";
            each["marked_range"] = range(marker.range.begin.frame, marker.range.length());
            stack["markers"].push_back(std::move(each));
        }
        json out = object("Timeline.1", asUtf8(timeline_.title));
        out["global_start_time"] = nullptr;
        out["metadata"][ours] = {{"rate", timeline_.rate.hz}, {"media", allMedia()}};
        out["tracks"] = std::move(stack);
        return out;
    }

private:
    static json object(const char* schema, const std::string& name) {
        return {{"OTIO_SCHEMA", schema}, {"name", name}, {"metadata", json::object()}};
    }
    json time(std::int64_t frames) const {
        return {{"OTIO_SCHEMA", "RationalTime.1"},
                {"rate", static_cast<double>(timeline_.rate.hz)},
                {"value", static_cast<double>(frames)}};
    }
    json range(std::int64_t start, FrameCount length) const {
        return {{"OTIO_SCHEMA", "TimeRange.1"}, {"start_time", time(start)}, {"duration", time(length.frames)}};
    }

    json allMedia() const {
        return listJson(timeline_.media, [&](const LaneMedia& each) {
            return json{{"take", each.take},
                        {"mic", asUtf8(each.mic)},
                        {"file", urlOf(each.source.file, folder_)},
                        {"channel", each.source.channel},
                        {"offset", each.source.offset.frames},
                        {"length", each.source.length.frames},
                        {"content", hexadecimal(each.source.content)},
                        {"take_length", each.length.frames}};
        });
    }

    json track(const Lane& lane) const {
        json out = object("Track.1", asUtf8(lane.mic));
        out["kind"] = "Audio";
        out["source_range"] = nullptr;
        out["effects"] = json::array();
        out["markers"] = json::array();
        out["enabled"] = true;
        json children = json::array();
        for (const LaneItem& item : lane.items) {
            if (item.in)
                children.push_back(transition(*item.in));
            children.push_back(item.silent ? gap(item) : clip(lane.mic, item));
        }
        out["children"] = std::move(children);
        return out;
    }

    json transition(const Dissolve& in) const {
        json out = object("Transition.1", in.kind);
        out["transition_type"] = "SMPTE_Dissolve";
        out["in_offset"] = time(in.before.frames);
        out["out_offset"] = time(in.after.frames);
        out["metadata"][ours]["curve"] = fadeCurveNames.of(in.curve);
        if (in.likeness)
            out["metadata"][ours]["likeness"] = *in.likeness;
        return out;
    }

    json gap(const LaneItem& item) const {
        json out = object("Gap.1", "");
        out["source_range"] = range(0, item.range.length());
        out["effects"] = json::array();
        out["markers"] = json::array();
        out["enabled"] = true;
        return out;
    }

    json clip(const std::string& mic, const LaneItem& item) const {
        json out = object("Clip.2", item.take + " " + asUtf8(mic));
        const auto* of = mediaOf(mic, item.take);
        const FrameCount offset = of ? of->source.offset : FrameCount{};
        out["source_range"] = range((item.from - offset).frame, item.range.length());
        out["effects"] = json::array();
        out["markers"] = json::array();
        out["enabled"] = true;
        out["active_media_reference_key"] = media;
        json reference = object("ExternalReference.1", "");
        reference["target_url"] = of ? urlOf(of->source.file, folder_) : "";
        reference["available_image_bounds"] = nullptr;
        reference["available_range"] =
            of && of->source.length > FrameCount{} ? range(0, of->source.length) : json();
        out["media_references"] = {{media, std::move(reference)}};
        json& about = out["metadata"][ours];
        about = {{"take", item.take}, {"from", item.from.frame}};
        if (item.gain != 1)
            about["gain"] = item.gain;
        if (item.tail) {
            about["tail"] = {item.tail->begin.frame, item.tail->end.frame};
            about["over"] = {item.over->begin.frame, item.over->end.frame};
            json warp = object("LinearTimeWarp.1", "");
            warp["effect_name"] = "LinearTimeWarp";
            warp["enabled"] = true;
            warp["time_scalar"] = ratio(item.tail->length(), item.over->length());
            out["effects"].push_back(std::move(warp));
        }
        return out;
    }

    const LaneMedia* mediaOf(const std::string& mic, const std::string& take) const {
        const auto found = std::find_if(timeline_.media.begin(), timeline_.media.end(), [&](const LaneMedia& each) {
            return each.mic == mic && each.take == take;
        });
        return found == timeline_.media.end() ? nullptr : &*found;
    }

    const EditTimeline& timeline_;
    const std::filesystem::path& folder_;
};

// ---- reading

std::string nameIn(const json& j, const char* key) {
    return text(j, key);
}

void requireKind(const json& j, std::string_view schema) {
    if (text(j, "OTIO_SCHEMA") != schema)
        throw Damage{fmt::format("it holds something else where {} is wanted", schema)};
}

/// A whole number of frames at the timeline's rate.
std::int64_t framesIn(const json& j, const char* key, SampleRate rate) {
    const json& time = member(j, key);
    requireKind(time, "RationalTime.1");
    const double value = number(time, "value", -static_cast<double>(longest), static_cast<double>(longest));
    if (number(time, "rate", 1, 1e9) != rate.hz || value != std::floor(value))
        throw Damage{"a time is no whole frame of its rate"};
    return static_cast<std::int64_t>(value);
}

Range<ResultFrame> rangeIn(const json& j, const char* key, SampleRate rate) {
    const json& range = member(j, key);
    requireKind(range, "TimeRange.1");
    const std::int64_t start = framesIn(range, "start_time", rate), length = framesIn(range, "duration", rate);
    if (length < 0)
        throw Damage{"a stretch ends before it begins"};
    return {ResultFrame{start}, ResultFrame{start + length}};
}

template <class Pos>
Range<Pos> pairIn(const json& j, const char* key) {
    const json& pair = member(j, key);
    if (!pair.is_array() || pair.size() != 2 || !pair[0].is_number_integer() || !pair[1].is_number_integer())
        throw Damage{fmt::format("\"{}\" is no stretch", key)};
    const Range<Pos> range{Pos{pair[0].get<std::int64_t>()}, Pos{pair[1].get<std::int64_t>()}};
    if (range.empty() || range.begin.frame < -longest || range.end.frame > longest)
        throw Damage{fmt::format("\"{}\" is no stretch", key)};
    return range;
}

const json& about(const json& j) {
    return member(member(j, "metadata"), ours);
}

Dissolve dissolveIn(const json& j, SampleRate rate) {
    Dissolve in{FrameCount{framesIn(j, "in_offset", rate)},
                FrameCount{framesIn(j, "out_offset", rate)},
                known(fadeCurveNames.named(text(about(j), "curve")), "curve"),
                {},
                text(j, "name")};
    if (in.before < FrameCount{} || in.after < FrameCount{})
        throw Damage{"a fade ends before it begins"};
    if (about(j).contains("likeness"))
        in.likeness = static_cast<float>(number(about(j), "likeness", -1, 1));
    return in;
}

LaneItem itemIn(const json& j, ResultFrame at, SampleRate rate) {
    LaneItem item;
    const Range<ResultFrame> own = rangeIn(j, "source_range", rate);
    item.range = {at, at + own.length()};
    if (text(j, "OTIO_SCHEMA") == "Gap.1") {
        item.silent = true;
        return item;
    }
    requireKind(j, "Clip.2");
    item.take = letter(about(j), "take").text();
    item.from = SourceFrame{whole(about(j), "from", -longest, longest)};
    if (about(j).contains("gain"))
        item.gain = number(about(j), "gain", 0, 1000);
    if (about(j).contains("tail")) {
        item.tail = pairIn<SourceFrame>(about(j), "tail");
        item.over = pairIn<ResultFrame>(about(j), "over");
    }
    return item;
}

Lane laneIn(const json& j, SampleRate rate) {
    requireKind(j, "Track.1");
    Lane lane{nameIn(j, "name"), {}};
    const json& children = member(j, "children");
    if (!children.is_array() || children.size() > 2 * maxItems)
        throw Damage{"\"children\" is not a list"};
    std::optional<Dissolve> in;
    ResultFrame at{0};
    for (const json& child : children) {
        if (text(child, "OTIO_SCHEMA") == "Transition.1") {
            in = dissolveIn(child, rate);
            continue;
        }
        lane.items.push_back(itemIn(child, at, rate));
        lane.items.back().in = std::exchange(in, std::nullopt);
        at = lane.items.back().range.end;
        if (at.frame > longest)
            throw Damage{"a track is too long"};
    }
    return lane;
}

LaneMedia mediaIn(const json& j, const std::filesystem::path& folder) {
    LaneMedia each{letter(j, "take").text(), text(j, "mic"), {}, FrameCount{whole(j, "take_length", 0, longest)}};
    each.source.file = fileOf(text(j, "file"), folder);
    each.source.channel = static_cast<int>(whole(j, "channel", SourceFile::everyChannel, 1023));
    each.source.offset = FrameCount{whole(j, "offset", -longest, longest)};
    each.source.length = FrameCount{whole(j, "length", 0, longest)};
    const auto content = numberOfHexadecimal(text(j, "content"));
    if (!content)
        throw Damage{"\"content\" is no fingerprint"};
    each.source.content = *content;
    return each;
}

} // namespace

std::string timelineText(const EditTimeline& timeline, const std::filesystem::path& folder) {
    return Writer(timeline, folder).timeline().dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

Expected<EditTimeline> timelineFrom(const std::string& source, const std::filesystem::path& folder,
                                    const std::string& named) {
    try {
        const json j = parseLimited(source);
        requireKind(j, "Timeline.1");
        EditTimeline timeline;
        timeline.title = text(j, "name");
        timeline.rate = {static_cast<int>(whole(about(j), "rate", limits::lowestRate, limits::highestRate))};
        timeline.media = list(about(j), "media", [&](const json& each) { return mediaIn(each, folder); });
        const json& stack = member(j, "tracks");
        requireKind(stack, "Stack.1");
        timeline.lanes = list(stack, "children", [&](const json& each) { return laneIn(each, timeline.rate); });
        timeline.markers = list(stack, "markers", [&](const json& each) {
            requireKind(each, "Marker.2");
            return TimelineMarker{text(each, "name"), rangeIn(each, "marked_range", timeline.rate)};
        });
        return timeline;
    } catch (const Damage& damage) {
        return fail(ErrorKind::damagedProject,
                    fmt::format("{} is no edit of this program: {}", named, damage.what));
    }
}

} // namespace lampo
