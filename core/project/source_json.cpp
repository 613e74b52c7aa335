#include "project/source_json.h"

#include "base/limits.h"
#include "base/text.h"
#include "project/json_fields.h"

namespace lampo {

using namespace jsonfields;
namespace fs = std::filesystem;

std::string stored(const fs::path& file, const fs::path& folder) {
    if (file.empty())
        return {};
    std::error_code code;
    const fs::path whole = fs::absolute(file, code); // a relative one is so to where Lampo was started
    const fs::path relative = whole.lexically_relative(folder);
    const bool below = !relative.empty() && *relative.begin() != "..";
    return (below ? relative : code ? file : whole).generic_string();
}

json fileJson(const SourceFile& source, const fs::path& folder) {
    json out{{"file", stored(source.file, folder)}};
    if (source.empty())
        return out;
    out["length"] = source.length.frames;
    if (source.content != 0)
        out["content"] = hexadecimal(source.content);
    if (source.channel != 0)
        out["channel"] = source.channel;
    if (source.offset != FrameCount{})
        out["offset"] = source.offset.frames;
    return out;
}

fs::path found(const std::string& stored, const fs::path& folder) {
    if (stored.empty())
        return {};
    const fs::path whole = (folder / stored).lexically_normal();
    return whole.has_filename() ? whole : whole.parent_path(); // "." is the folder itself
}

SourceFile readFile(const json& j, const fs::path& folder) {
    if (j.is_string())
        return found(anyText(j, "file"), folder);
    SourceFile source{found(text(j, "file"), folder), static_cast<int>(wholeOr(j, "channel", 0, -1, 1023)),
                      FrameCount{wholeOr(j, "offset", 0, -limits::frames, limits::frames)},
                      FrameCount{wholeOr(j, "length", 0, 0, limits::frames)}};
    if (j.contains("content"))
        source.content = known(numberOfHexadecimal(text(j, "content")), "content");
    return source;
}

} // namespace lampo
