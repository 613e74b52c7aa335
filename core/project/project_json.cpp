#include "project/project_json.h"

#include "hits/hit.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace lampo {
namespace {

using nlohmann::json;
namespace fs = std::filesystem;

constexpr std::string_view schema = "lampo-project-1";
constexpr int deepestNesting = 16;
constexpr std::size_t mostItems = 100000;

// ---- writing

std::string stored(const fs::path& file, const fs::path& folder) {
    if (file.empty())
        return {};
    const fs::path relative = file.lexically_relative(folder);
    const bool below = !relative.empty() && *relative.begin() != "..";
    return (below ? relative : file).generic_string();
}

constexpr std::array<std::string_view, 4> correctionNames{"add", "remove", "pin", "place"};

json micJson(const Mic& mic) {
    return {{"stem", mic.stem},
            {"role", name(mic.role)},
            {"guide", mic.guide},
            {"threshold_db", mic.threshold.value},
            {"shortest_gap_ms", mic.shortestGap.value},
            {"level_db", mic.level.value},
            {"mute", mic.mute},
            {"solo", mic.solo}};
}

json takeJson(const Take& take, const fs::path& folder) {
    json files = json::array();
    for (const auto& file : take.files)
        files.push_back(stored(file, folder));
    return {{"letter", std::string(1, take.letter)},
            {"folder", stored(take.folder, folder)},
            {"files", files},
            {"start", take.start.frames},
            {"length", take.length.frames}};
}

json sectionJson(const Section& section) {
    json out{{"name", section.name}, {"first_bar", section.firstBar}, {"bars", section.bars}};
    if (section.grid)
        out["grid"] = name(*section.grid);
    if (section.strength)
        out["strength"] = *section.strength;
    return out;
}

json correctionJson(const Correction& correction) {
    return {{"kind", correctionNames[static_cast<std::size_t>(correction.kind)]},
            {"take", std::string(1, correction.take)},
            {"at", correction.at.frame},
            {"landing", correction.landing.frame},
            {"voice", name(correction.voice)}};
}

json mapJson(const MapData& map) {
    json meters = json::array();
    for (const auto& change : map.meters)
        meters.push_back({{"bar", change.bar}, {"beats", change.meter.beats}, {"unit", change.meter.unit}});
    json tempos = json::array();
    for (const auto& change : map.tempos)
        tempos.push_back({{"bar", change.bar}, {"bpm", change.bpm.value}});
    return {{"origin", map.origin.frame}, {"meters", meters}, {"tempos", tempos}};
}

template <class List, class Writer>
json listJson(const List& list, Writer&& writer) {
    json out = json::array();
    for (const auto& item : list)
        out.push_back(writer(item));
    return out;
}

// ---- reading

/// Thrown and caught in this file only: a value that is missing, of the wrong kind or out of its range.
struct Damage {
    std::string what;
};

const json& member(const json& object, const char* key) {
    if (!object.is_object() || !object.contains(key))
        throw Damage{std::string("\"") + key + "\" is missing"};
    return object[key];
}

double number(const json& object, const char* key, double low, double high) {
    const json& value = member(object, key);
    const double result = value.is_number() ? value.get<double>() : std::nan("");
    if (!(low <= result && result <= high))
        throw Damage{std::string("\"") + key + "\" is not a number in its range"};
    return result;
}

std::int64_t whole(const json& object, const char* key, std::int64_t low, std::int64_t high) {
    const json& value = member(object, key);
    if (!value.is_number_integer())
        throw Damage{std::string("\"") + key + "\" is not a whole number"};
    return static_cast<std::int64_t>(number(object, key, static_cast<double>(low), static_cast<double>(high)));
}

bool truth(const json& object, const char* key) {
    const json& value = member(object, key);
    if (!value.is_boolean())
        throw Damage{std::string("\"") + key + "\" is neither true nor false"};
    return value.get<bool>();
}

std::string text(const json& object, const char* key) {
    const json& value = member(object, key);
    if (!value.is_string() || value.get_ref<const std::string&>().size() > 4096)
        throw Damage{std::string("\"") + key + "\" is not a text"};
    return value.get<std::string>();
}

char letter(const json& object, const char* key) {
    const std::string value = text(object, key);
    if (value.size() != 1 || value.front() < 'A' || value.front() > 'Z')
        throw Damage{std::string("\"") + key + "\" is not a letter"};
    return value.front();
}

template <class Reader>
auto list(const json& object, const char* key, Reader&& reader) {
    const json& value = member(object, key);
    if (!value.is_array() || value.size() > mostItems)
        throw Damage{std::string("\"") + key + "\" is not a list"};
    std::vector<decltype(reader(value))> items;
    items.reserve(value.size());
    for (const json& item : value)
        items.push_back(reader(item));
    return items;
}

template <class Value>
Value known(std::optional<Value> value, const char* key) {
    if (!value)
        throw Damage{std::string("\"") + key + "\" is none of the known names"};
    return *value;
}

constexpr std::int64_t longest = std::int64_t{1} << 40; // frames; 33 days at 384 kHz

fs::path found(const std::string& stored, const fs::path& folder) {
    return stored.empty() ? fs::path{} : (folder / stored).lexically_normal();
}

Mic readMic(const json& j) {
    return {text(j, "stem"),
            known(roleNamed(text(j, "role")), "role"),
            truth(j, "guide"),
            {number(j, "threshold_db", -60, 0)},
            {number(j, "shortest_gap_ms", 10, 500)},
            {number(j, "level_db", -60, 12)},
            truth(j, "mute"),
            truth(j, "solo")};
}

Take readTake(const json& j, const fs::path& folder) {
    const auto files = list(j, "files", [](const json& f) {
        return f.is_string() ? f.get<std::string>() : throw Damage{"a file name is not a text"};
    });
    Take take{letter(j, "letter"),
              found(text(j, "folder"), folder),
              {},
              {whole(j, "start", -longest, longest)},
              {whole(j, "length", 1, longest)}};
    for (const auto& file : files)
        take.files.push_back(found(file, folder));
    return take;
}

Companion readCompanion(const json& j, const fs::path& folder) {
    return {text(j, "name"), found(text(j, "file"), folder), {number(j, "level_db", -60, 12)}, truth(j, "mute")};
}

Section readSection(const json& j) {
    Section section{text(j, "name"),
                    static_cast<int>(whole(j, "first_bar", -1000000, 1000000)),
                    static_cast<int>(whole(j, "bars", 1, 1000000)),
                    {},
                    {}};
    if (j.contains("grid"))
        section.grid = known(noteValueNamed(text(j, "grid")), "grid");
    if (j.contains("strength"))
        section.strength = number(j, "strength", 0, 100);
    return section;
}

Voice readVoice(const json& j) {
    for (int v = 0; v <= static_cast<int>(Voice::other); ++v)
        if (name(static_cast<Voice>(v)) == text(j, "voice"))
            return static_cast<Voice>(v);
    throw Damage{"\"voice\" is none of the known names"};
}

Correction readCorrection(const json& j) {
    const auto kind = std::find(correctionNames.begin(), correctionNames.end(), text(j, "kind"));
    if (kind == correctionNames.end())
        throw Damage{"\"kind\" is none of the known names"};
    return {static_cast<Correction::Kind>(kind - correctionNames.begin()),
            letter(j, "take"),
            {whole(j, "at", -longest, longest)},
            {whole(j, "landing", -longest, longest)},
            readVoice(j)};
}

template <class Change>
std::vector<Change> sortedFromBarOne(std::vector<Change> changes, const char* key) {
    const auto disorder = std::adjacent_find(changes.begin(), changes.end(),
                                             [](const auto& a, const auto& b) { return a.bar >= b.bar; });
    if (changes.empty() || changes.front().bar != 1 || disorder != changes.end())
        throw Damage{std::string("\"") + key + "\" does not go from bar 1 onwards"};
    return changes;
}

MapData readMap(const json& j) {
    MapData map;
    map.origin = {whole(j, "origin", -longest, longest)};
    map.meters = sortedFromBarOne(list(j, "meters",
                                       [](const json& m) {
                                           const Meter meter{static_cast<int>(whole(m, "beats", 1, 32)),
                                                             static_cast<int>(whole(m, "unit", 1, 32))};
                                           if ((meter.unit & (meter.unit - 1)) != 0)
                                               throw Damage{"\"unit\" is not a power of two"};
                                           return MeterChange{static_cast<int>(whole(m, "bar", 1, 1000000)), meter};
                                       }),
                                  "meters");
    map.tempos =
        sortedFromBarOne(list(j, "tempos",
                              [](const json& t) {
                                  return TempoChange{static_cast<int>(whole(t, "bar", 1, 1000000)),
                                                     {number(t, "bpm", slowestTempo.value, fastestTempo.value)}};
                              }),
                         "tempos");
    return map;
}

void readSettings(const json& j, Session& session) {
    const json& timing = member(j, "timing");
    session.timing = {known(noteValueNamed(text(timing, "grid")), "grid"), number(timing, "strength", 0, 100)};
    const json& seams = member(j, "seams");
    const std::string fill = text(seams, "fill");
    if (fill != "borrow" && fill != "open")
        throw Damage{"\"fill\" is none of the known names"};
    session.seams = {{number(seams, "lead_in_ms", 0, 50)},
                     {number(seams, "fade_ms", 1, 50)},
                     fill == "open" ? Fill::open : Fill::borrow};
    session.clusters.window = {number(j, "cluster_window_ms", 0, 100)};
}

void checkWhole(const Session& session) {
    if (session.mics.size() > mostMics)
        throw Damage{"it has more mics than a kit can have"};
    std::set<std::string> stems;
    for (const Mic& mic : session.mics)
        if (!stems.insert(mic.stem).second)
            throw Damage{"two mics have one name"};
    if (!session.takes.empty() && session.sounding >= session.takes.size())
        throw Damage{"the sounding take does not exist"};
    for (const Take& take : session.takes)
        if (take.files.size() != session.mics.size())
            throw Damage{"a take does not have a file for every mic"};
}

Session readSession(const json& j, const fs::path& folder) {
    if (text(j, "schema") != schema)
        throw Damage{"it was written by a newer or another program"};
    Session session;
    session.title = text(j, "title");
    session.rate = {static_cast<int>(whole(j, "sample_rate", 8000, 384000))};
    session.mics = list(j, "mics", readMic);
    session.takes = list(j, "takes", [&](const json& take) { return readTake(take, folder); });
    session.companions = list(j, "companions", [&](const json& c) { return readCompanion(c, folder); });
    session.sounding = static_cast<std::size_t>(whole(j, "sounding", 0, 1000));
    session.map = readMap(member(j, "map"));
    session.sections = list(j, "sections", readSection);
    session.corrections = list(j, "corrections", readCorrection);
    readSettings(j, session);
    checkWhole(session);
    return session;
}

/// The parser recurses by nesting, so nesting is limited before anything is kept.
json parseLimited(std::string_view source) {
    bool tooDeep = false;
    const json::parser_callback_t shallow = [&](int depth, json::parse_event_t, json&) {
        tooDeep = tooDeep || depth > deepestNesting;
        return !tooDeep;
    };
    json parsed = json::parse(source, shallow, false);
    if (parsed.is_discarded() || tooDeep)
        throw Damage{"it is not a complete project text"};
    return parsed;
}

} // namespace

std::string projectText(const Session& session, const fs::path& folder) {
    const json out{{"schema", schema},
                   {"title", session.title},
                   {"sample_rate", session.rate.hz},
                   {"mics", listJson(session.mics, micJson)},
                   {"takes", listJson(session.takes, [&](const Take& take) { return takeJson(take, folder); })},
                   {"companions", listJson(session.companions,
                                           [&](const Companion& c) {
                                               return json{{"name", c.name},
                                                           {"file", stored(c.file, folder)},
                                                           {"level_db", c.level.value},
                                                           {"mute", c.mute}};
                                           })},
                   {"sounding", session.sounding},
                   {"map", mapJson(session.map)},
                   {"sections", listJson(session.sections, sectionJson)},
                   {"timing", {{"grid", name(session.timing.grid)}, {"strength", session.timing.strength}}},
                   {"seams",
                    {{"lead_in_ms", session.seams.leadIn.value},
                     {"fade_ms", session.seams.fade.value},
                     {"fill", session.seams.fill == Fill::borrow ? "borrow" : "open"}}},
                   {"cluster_window_ms", session.clusters.window.value},
                   {"corrections", listJson(session.corrections, correctionJson)}};
    return out.dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

Expected<Session> sessionFromText(std::string_view source, const fs::path& folder, const std::string& named) {
    try {
        return readSession(parseLimited(source), folder);
    } catch (const Damage& damage) {
        return fail(ErrorKind::damagedProject,
                    named + " is damaged or not a Lampo project: " + damage.what + "; nothing was changed");
    }
}

} // namespace lampo
