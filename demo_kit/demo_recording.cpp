#include "demo_kit/demo_recording.h"

#include "audio/audio_writer.h"
#include "base/parallel.h"
#include "base/whole_file.h"
#include "import/folder_import.h"
#include "import/source_search.h"
#include "project/project_file.h"

#include <nlohmann/json.hpp>
#include <fmt/core.h>

namespace lampo::demo {
namespace {

constexpr char letters[] = {'A', 'B', 'C'};
constexpr const char* truthName = "truth.json";
constexpr const char* projectName = "lighthouse_relay.lampo";
constexpr std::string_view schema = "lampo-truth-1";

Expected<void> writeMono(const std::filesystem::path& file, const std::vector<float>& samples) {
    auto writer = AudioWriter::create(file, SampleFormat::wav24, {demoRate});
    if (!writer)
        return tl::unexpected(writer.error());
    return writer->write(samples).and_then([&] { return writer->close(); }).and_then([&] {
        return writer->commit();
    });
}

std::string truthText(const Score& score, const std::vector<Stroke>& strokes) {
    auto list = nlohmann::json::array();
    for (const Stroke& stroke : strokes)
        list.push_back({{"sample", stroke.sample},
                        {"drum", name(stroke.drum)},
                        {"velocity", stroke.velocity},
                        {"bar", stroke.bar},
                        {"beat", stroke.beat},
                        {"ghost", stroke.ghost}});
    const nlohmann::json truth{{"schema", schema},
                               {"sample_rate", demoRate},
                               {"length", score.length},
                               {"tempo", score.map.tempos.front().bpm.value},
                               {"strokes", list}};
    return truth.dump(1) + "\n";
}

/// What this demo would write over must be an earlier demo's: a take's truth tells.
Expected<void> checkFolder(const std::filesystem::path& folder) {
    const auto truth = [](const std::filesystem::path& take) {
        const auto text = readWhole(take / truthName, 64U << 20, "truth");
        return text && text->find(schema) != std::string::npos;
    };
    const auto isFree = [](const std::filesystem::path& place) {
        std::error_code code;
        return !std::filesystem::exists(std::filesystem::symlink_status(place, code));
    };
    for (const char letter : letters)
        if (const auto take = folder / std::string(1, letter); !isFree(take) && !truth(take))
            return fail(ErrorKind::unwritable,
                        fmt::format("The folder {} holds {}, which no demo wrote; choose another folder",
                                    quotedName(folder), quotedName(take)));
    const auto first = folder / std::string(1, letters[0]);
    for (const char* other : {"companion", projectName})
        if (!isFree(folder / other) && !truth(first))
            return fail(ErrorKind::unwritable,
                        fmt::format("The folder {} holds {}, which no demo wrote; choose another folder",
                                    quotedName(folder), quotedName(folder / other)));
    return {};
}

Expected<void> writeTake(const std::filesystem::path& folder, const Score& score, char letter) {
    const auto strokes = performance(score, letter, demoRate);
    const auto mics = demoMics();
    const auto recorded = record(strokes, mics, score.length, demoRate, static_cast<std::uint64_t>(letter));
    // First, so that a demo which was stopped can be made again.
    if (auto written = writeAtomically(folder / truthName, truthText(score, strokes)); !written)
        return written;
    for (std::size_t m = 0; m < mics.size(); ++m)
        if (auto written = writeMono(folder / (mics[m].stem + ".wav"), recorded[m]); !written)
            return written;
    return {};
}

Expected<void> writeBass(const std::filesystem::path& folder, const Score& score) {
    std::vector<float> bass(static_cast<std::size_t>(score.length));
    for (const BassNote& note : bassLine(score, demoRate)) {
        const auto sound = bassNote(note.hertz, note.seconds, demoRate);
        for (std::size_t i = 0; i < sound.size() && note.sample + static_cast<std::int64_t>(i) < score.length; ++i)
            bass[static_cast<std::size_t>(note.sample) + i] += 0.7F * sound[i];
    }
    return writeMono(folder / "bass.wav", bass);
}

} // namespace

Session demoSession(const std::filesystem::path& folder) {
    const Score score = lighthouseRelay(demoRate);
    std::vector<std::string> stems;
    for (const ModelMic& mic : demoMics())
        stems.push_back(mic.stem);
    Session session;
    session.title = "Lighthouse Relay";
    session.rate = {demoRate};
    session.mics = kitOf(stems);
    session.map = score.map;
    session.sections = score.sections;
    session.companions = {
        {"bass", {folder / "companion" / "bass.wav", 0, {}, FrameCount{score.length}}, {-6}, false}};
    for (const char letter : letters) {
        Take take{letter, folder / std::string(1, letter), {}, {}, FrameCount{score.length}};
        for (const Mic& mic : session.mics)
            take.files.push_back({take.folder / (mic.stem + ".wav"), 0, {}, take.length});
        session.takes.push_back(take);
    }
    return session;
}

Expected<void> writeDemo(const std::filesystem::path& folder) {
    if (auto free = checkFolder(folder); !free)
        return free;
    const Score score = lighthouseRelay(demoRate);
    std::error_code code;
    for (const char* part : {"A", "B", "C", "companion"})
        std::filesystem::create_directories(folder / part, code);
    if (code)
        return fail(ErrorKind::unwritable,
                    fmt::format("The folder {} could not be made: {}", quotedName(folder), code.message()));
    const auto takes = tryEachIndex(std::size(letters), [&](std::size_t take) {
        return writeTake(folder / std::string(1, letters[take]), score, letters[take]);
    });
    if (!takes)
        return takes;
    if (auto written = writeBass(folder / "companion", score); !written)
        return written;
    return saveProject(fingerprinted(demoSession(folder)), folder / projectName);
}

} // namespace lampo::demo
