#include "project/feel_file.h"

#include "base/whole_file.h"
#include "midi/midi_feel.h"
#include "project/by_hand_json.h"

#include <fmt/core.h>

namespace lampo {
namespace {

constexpr const char* schema = "lampo-feel-1";
constexpr std::uintmax_t largestFeelFile = 1u << 20;

} // namespace

std::string feelText(const Feel& feel) {
    nlohmann::json out = feelJson(feel);
    out["schema"] = schema;
    return jsonfields::written(out);
}

Expected<Feel> feelFromText(std::string_view text, const std::string& named) {
    try {
        const nlohmann::json j = jsonfields::parseLimited(text);
        jsonfields::requireSchema(j, schema);
        return readFeel(j);
    } catch (const jsonfields::Damage& damage) {
        return fail(ErrorKind::badValue, fmt::format("{} is damaged or holds no feel: {}", named, damage.what));
    }
}

Expected<Feel> readFeelFile(const std::filesystem::path& file) {
    const std::string named = quotedName(file);
    if (const auto ending = file.extension(); ending == ".mid" || ending == ".midi")
        return readWhole(file, largestMidiFile, "MIDI file").and_then([&](const std::string& bytes) {
            return midiFromBytes(bytes, named).and_then([&](const MidiFile& midi) {
                return feelOfMidi(midi, file.stem().string(), named);
            });
        });
    return readWhole(file, largestFeelFile, "feel").and_then([&](const std::string& bytes) {
        return feelFromText(bytes, named);
    });
}

Expected<void> writeFeelFile(const std::filesystem::path& file, const Feel& feel) {
    return writeAtomically(file, feelText(feel));
}

} // namespace lampo
