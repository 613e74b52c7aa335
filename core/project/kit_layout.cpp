#include "project/kit_layout.h"

#include "base/whole_file.h"
#include "project/mic_json.h"

#include <fmt/core.h>

namespace lampo {
namespace {

constexpr std::string_view schema = "lampo-kit-1";
constexpr std::uintmax_t largestLayout = 1U << 20;

} // namespace

Expected<void> saveKitLayout(const Session& session, const std::filesystem::path& file) {
    const auto kept = [](Mic mic) {
        const Mic usual;
        mic.level = usual.level;
        mic.mute = usual.mute;
        mic.solo = usual.solo;
        return micJson(mic);
    };
    return writeAtomically(
        file, jsonfields::written({{"schema", schema}, {"mics", jsonfields::listJson(session.mics, kept)}}));
}

Expected<std::vector<Mic>> loadKitLayout(const std::filesystem::path& file) {
    const auto source = readWhole(file, largestLayout, "kit layout");
    if (!source)
        return tl::unexpected(source.error());
    try {
        const auto json = jsonfields::parseLimited(*source);
        jsonfields::requireSchema(json, schema);
        return readMics(json);
    } catch (const jsonfields::Damage& damage) {
        return fail(ErrorKind::damagedProject,
                    fmt::format("{} is damaged or not a kit layout: {}; nothing was changed", quotedName(file),
                                damage.what));
    }
}

} // namespace lampo
