#include "project/project_json.h"

#include "base/text.h"
#include "project/by_hand_json.h"
#include "project/json_difference.h"
#include "project/json_fields.h"
#include "project/map_json.h"
#include "project/mic_json.h"
#include "project/sample_json.h"
#include "project/source_json.h"
#include "project/takes_json.h"
#include "project/timing_json.h"
#include "session/validate.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/core.h>
#include <set>

namespace lampo {
namespace {

using namespace jsonfields;
namespace fs = std::filesystem;

constexpr std::string_view schema = "lampo-project-1";
constexpr std::size_t maxVersionValues = 8'000'000; ///< read anew for all versions: a few thousand usual ones

// ---- writing

json takeJson(const Take& take, const fs::path& folder) {
    json files = json::array();
    for (const auto& file : take.files)
        files.push_back(fileJson(file, folder));
    json out{{"letter", take.letter.text()},
             {"folder", stored(take.folder, folder)},
             {"files", files},
             {"start", take.start.frames},
             {"length", take.length.frames}};
    if (!take.note.empty())
        out["note"] = take.note;
    if (take.tint)
        out["tint"] = *take.tint;
    return out;
}

json finestJson(const Finest& finest) {
    return {{"value", name(finest.value)}, {"near_ms", finest.near.value}};
}

json detectionJson(const SectionDetection& detection) {
    json out{{"mic", detection.mic}};
    if (detection.threshold)
        out["threshold_db"] = detection.threshold->value;
    if (detection.shortestGap)
        out["shortest_gap_ms"] = detection.shortestGap->value;
    if (detection.judgesBleed)
        out["judges_bleed"] = *detection.judgesBleed;
    return out;
}

json sectionJson(const Section& section) {
    json out{{"name", section.name}, {"first_bar", section.firstBar}, {"bars", section.bars}};
    writeSectionTiming(section, out);
    if (section.finest)
        out["finest"] = finestJson(*section.finest);
    if (!section.detection.empty())
        out["listening"] = listJson(section.detection, detectionJson);
    return out;
}

json correctionJson(const Correction& correction) {
    using Kind = Correction::Kind;
    json out{{"kind", name(correction.kind)}, {"take", correction.take.text()}, {"at", correction.at.frame}};
    if (correction.kind == Kind::place || correction.kind == Kind::line)
        out["moved"] = correction.moved.frames;
    if (correction.kind == Kind::add || correction.kind == Kind::drum)
        out["voice"] = name(correction.voice);
    if (correction.kind == Kind::mark || correction.kind == Kind::join)
        out["to"] = correction.to.frame;
    if (!correction.mic.empty())
        out["mic"] = correction.mic;
    return out;
}

json midiJson(const MidiSettings& midi) {
    return {{"strong", midi.curve.strong},
            {"bend", midi.curve.bend},
            {"keys", listJson(midi.keys, [](const auto& each) {
                 return json{{"mic", each.first}, {"key", each.second}};
             })}};
}

// ---- reading

constexpr std::int64_t longest = limits::frames;

Take readTake(const json& j, const fs::path& folder) {
    Take take{letter(j, "letter"), found(text(j, "folder"), folder),
              list(j, "files",
                   [&](const json& f) {
                       return f.is_string() || f.is_object() ? readFile(f, folder)
                                                             : throw Damage{"a file name is not a text"};
                   }),
              FrameCount{whole(j, "start", -longest, longest)}, FrameCount{whole(j, "length", 1, longest)}};
    take.files.changeEach([&](SourceFile& file) {
        const bool lacks = !file.empty() && file.length == FrameCount{};
        if (lacks)
            file.length = take.length;
        return lacks;
    });
    if (j.contains("note"))
        take.note = text(j, "note");
    if (j.contains("tint"))
        take.tint = static_cast<int>(whole(j, "tint", 0, takeTints - 1));
    return take;
}

Companion readCompanion(const json& j, const fs::path& folder) {
    return {text(j, "name"),
            readFile(member(j, "file"), folder),
            {number(j, "level_db", limits::level)},
            truth(j, "mute")};
}

Finest readFinest(const json& j) {
    return {known(noteValueNamed(text(j, "value")), "value"), {number(j, "near_ms", limits::nearFinest)}};
}

SectionDetection readListening(const json& j) {
    SectionDetection detection;
    detection.mic = text(j, "mic");
    if (j.contains("threshold_db"))
        detection.threshold = Decibels{number(j, "threshold_db", limits::threshold)};
    if (j.contains("shortest_gap_ms"))
        detection.shortestGap = Milliseconds{number(j, "shortest_gap_ms", limits::shortestGap)};
    if (j.contains("judges_bleed"))
        detection.judgesBleed = truth(j, "judges_bleed");
    return detection;
}

Section readSection(const json& j) {
    Section section;
    section.name = text(j, "name");
    section.firstBar = static_cast<int>(whole(j, "first_bar", -limits::bars, limits::bars));
    section.bars = static_cast<int>(whole(j, "bars", 1, limits::bars));
    readSectionTiming(j, section);
    if (j.contains("finest"))
        section.finest = readFinest(member(j, "finest"));
    if (j.contains("listening"))
        section.detection = list(j, "listening", readListening);
    return section;
}

Correction readCorrection(const json& j) {
    Correction correction{known(correctionNames.named(text(j, "kind")), "kind"), letter(j, "take"),
                          SourceFrame{whole(j, "at", -longest, longest)}};
    correction.moved = FrameCount{wholeOr(j, "moved", 0, -longest, longest)};
    correction.to = SourceFrame{wholeOr(j, "to", 0, -longest, longest)};
    if (j.contains("voice"))
        correction.voice = known(voiceNames.named(text(j, "voice")), "voice");
    if (j.contains("mic"))
        correction.mic = text(j, "mic");
    return correction;
}

MidiSettings readMidi(const json& j) {
    MidiSettings midi;
    midi.curve = {number(j, "strong", limits::strongVelocity), number(j, "bend", limits::velocityBend)};
    for (const auto& [mic, key] : list(j, "keys", [](const json& each) {
             return std::pair(text(each, "mic"), static_cast<int>(whole(each, "key", 0, 127)));
         }))
        midi.keys[mic] = key;
    return midi;
}

void readSettings(const json& j, Session& session) {
    if (j.contains("midi"))
        session.midi = readMidi(member(j, "midi"));
    readTiming(member(j, "timing"), session);
    const json& seams = member(j, "seams");
    session.seams = {{number(seams, "lead_in_ms", limits::leadIn)},
                     {number(seams, "fade_ms", limits::fade)},
                     known(fillNames.named(text(seams, "fill")), "fill")};
    if (seams.contains("curve"))
        session.seams.curve = known(fadeCurveNames.named(text(seams, "curve")), "curve");
    if (seams.contains("most_stretch"))
        session.seams.mostStretch = number(seams, "most_stretch", limits::stretch);
    if (seams.contains("far_shift_ms"))
        session.seams.farShift = {number(seams, "far_shift_ms", limits::farShift)};
    session.clusters.window = {number(j, "cluster_window_ms", limits::oneHit)};
    if (j.contains("cluster_anchor"))
        session.clusters.anchor = known(anchorNames.named(text(j, "cluster_anchor")), "cluster_anchor");
}

void checkWhole(const Session& session) {
    std::set<std::string> stems;
    for (const Mic& mic : session.mics)
        if (!stems.insert(mic.stem).second)
            throw Damage{"two mics have one name"};
    std::set<TakeLetter> letters;
    for (const Take& take : session.takes)
        if (!letters.insert(take.letter).second)
            throw Damage{"two takes have one letter"};
    for (const Take& take : session.takes)
        if (take.files.size() != session.mics.size())
            throw Damage{"a take does not have a file for every mic"};
}

/// Before there were comps, places were kept as they lay in the song.
void readOldPlaces(const json& j, Session& session) {
    const json& stored = member(j, "corrections");
    std::size_t i = 0;
    session.corrections.changeEach([&](Correction& correction) {
        const json& said = stored[i++];
        const auto take = session.takeLettered(correction.take);
        if (correction.kind != Correction::Kind::place || !said.contains("landing") || !take)
            return false;
        correction.moved =
            SongFrame{whole(said, "landing", -longest, longest)} - (correction.at + session.takes[*take].shift());
        return true;
    });
}

Session readSession(const json& j, const fs::path& folder) {
    requireSchema(j, schema);
    Session session;
    session.title = text(j, "title");
    session.rate = {static_cast<int>(whole(j, "sample_rate", limits::lowestRate, limits::highestRate))};
    session.mics = readMics(j);
    session.takes = list(j, "takes", [&](const json& take) { return readTake(take, folder); });
    session.companions = list(j, "companions", [&](const json& c) { return readCompanion(c, folder); });
    readChoices(j, session);
    session.map = readMap(member(j, "map"));
    session.sections = list(j, "sections", readSection);
    session.corrections = list(j, "corrections", readCorrection);
    if (j.contains("finest"))
        session.finest = readFinest(member(j, "finest"));
    if (j.contains("samples"))
        session.samples = list(j, "samples", [&](const json& sample) { return readSample(sample, folder); });
    readByHand(j, session);
    readSettings(j, session);
    checkWhole(session);
    if (auto valid = validate(session); !valid)
        throw Damage{valid.error().sentence};
    readOldPlaces(j, session);
    return session;
}

/// What two sessions have in common is there once.
void share(Session& session, const Session& with) {
    if (session.corrections == with.corrections)
        session.corrections = with.corrections;
    for (TakeIndex take; take < std::min(session.takes.size(), with.takes.size()); ++take)
        if (session.takes[take].files == with.takes[take].files)
            session.takes[take].files = with.takes[take].files;
}

/// The first is there as a whole; of the others what differs from the one before.
std::vector<Version> readVersions(const json& listed, const fs::path& folder) {
    if (!listed.is_array() || listed.size() > maxItems)
        throw Damage{"\"versions\" is not a list"};
    std::vector<Version> versions;
    json whole;
    std::size_t values = 0;
    for (const json& said : listed) {
        Version version{text(said, "name"), text(said, "kept"), {}, nullptr};
        if (said.contains("print"))
            version.print = found(text(said, "print"), folder);
        const bool isWhole = versions.empty() || said.contains("session");
        const json& content = member(said, isWhole ? "session" : "differs");
        if (isWhole)
            whole = content;
        else
            whole.merge_patch(content);
        if (!isWhole && content.empty()) {
            version.session = versions.back().session;
        } else {
            if ((values += countValues(whole)) > maxVersionValues)
                throw Damage{"its versions hold more than can be read"};
            Session session = readSession(whole, folder);
            if (!versions.empty())
                share(session, *versions.back().session);
            version.session = std::make_shared<const Session>(std::move(session));
        }
        versions.push_back(std::move(version));
    }
    return versions;
}

json sessionJson(const Session& session, const fs::path& folder) {
    json out{{"schema", schema},
             {"title", session.title},
             {"sample_rate", session.rate.hz},
             {"mics", listJson(session.mics, micJson)},
             {"takes", listJson(session.takes, [&](const Take& take) { return takeJson(take, folder); })},
             {"companions", listJson(session.companions,
                                     [&](const Companion& c) {
                                         return json{{"name", c.name},
                                                     {"file", fileJson(c.file, folder)},
                                                     {"level_db", c.level.value},
                                                     {"mute", c.mute}};
                                     })},
             {"map", mapJson(session.map)},
             {"sections", listJson(session.sections, sectionJson)},
             {"timing", timingJson(session)},
             {"seams",
              {{"lead_in_ms", session.seams.leadIn.value},
               {"fade_ms", session.seams.fade.value},
               {"fill", fillNames.of(session.seams.fill)},
               {"curve", fadeCurveNames.of(session.seams.curve)},
               {"most_stretch", session.seams.mostStretch},
               {"far_shift_ms", session.seams.farShift.value}}},
             {"cluster_window_ms", session.clusters.window.value},
             {"cluster_anchor", name(session.clusters.anchor)},
             {"corrections", listJson(session.corrections, correctionJson)}};
    if (session.finest)
        out["finest"] = finestJson(*session.finest);
    if (!session.samples.empty())
        out["samples"] =
            listJson(session.samples, [&](const DrumSample& sample) { return sampleJson(sample, folder); });
    if (session.midi != MidiSettings{})
        out["midi"] = midiJson(session.midi);
    writeByHand(session, out);
    writeChoices(session, out);
    return out;
}

json versionsJson(const std::vector<Version>& versions, const fs::path& folder) {
    json listed = json::array();
    json before;
    for (const Version& version : versions) {
        json whole = sessionJson(*version.session, folder);
        json& one = listed.emplace_back(json{{"name", version.name}, {"kept", version.kept}});
        if (!version.print.empty())
            one["print"] = stored(version.print, folder);
        if (before.is_null())
            one["session"] = whole;
        else
            one["differs"] = difference(before, whole);
        before = std::move(whole);
    }
    return listed;
}

} // namespace

std::string projectText(const Session& session, const fs::path& folder) {
    json out = sessionJson(session, folder);
    if (!session.versions.empty())
        out["versions"] = versionsJson(session.versions, folder);
    return written(out);
}

Expected<Session> sessionFromText(std::string_view source, const fs::path& folder, const std::string& named) {
    try {
        const json whole = parseLimited(source);
        Session session = readSession(whole, folder);
        if (whole.contains("versions"))
            session.versions = readVersions(whole["versions"], folder);
        return session;
    } catch (const Damage& damage) {
        return fail(
            ErrorKind::damagedProject,
            fmt::format("{} is damaged or not a Lampo project: {}; nothing was changed", named, damage.what));
    }
}

} // namespace lampo
