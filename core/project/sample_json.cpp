#include "project/sample_json.h"

#include "base/limits.h"
#include "project/json_fields.h"
#include "project/source_json.h"

namespace lampo {

using namespace jsonfields;
namespace fs = std::filesystem;

namespace {

SampleHit readSampleHit(const json& j) {
    SampleHit hit{{letter(j, "take"), SourceFrame{whole(j, "at", -limits::frames, limits::frames)}},
                  truth(j, "out")};
    if (j.contains("level_db"))
        hit.level = Decibels{number(j, "level_db", limits::sampleLevel)};
    return hit;
}

} // namespace

json sampleJson(const DrumSample& sample, const fs::path& folder) {
    json out{{"name", sample.name},
             {"mic", sample.mic},
             {"level_db", sample.level.value},
             {"layers", listJson(sample.layers, [&](const SampleLayer& layer) {
                  return json{{"up_to_db", layer.upTo.value},
                              {"files", listJson(layer.files,
                                                 [&](const SourceFile& file) { return fileJson(file, folder); })}};
              })}};
    if (sample.inverted)
        out["inverted"] = true;
    if (sample.later != FrameCount{})
        out["later"] = sample.later.frames;
    if (!sample.on)
        out["on"] = false;
    if (!sample.said.empty())
        out["hits"] = listJson(sample.said, [](const SampleHit& hit) {
            json each{{"take", hit.at.take.text()}, {"at", hit.at.at.frame}, {"out", hit.out}};
            if (hit.level)
                each["level_db"] = hit.level->value;
            return each;
        });
    return out;
}

DrumSample readSample(const json& j, const fs::path& folder) {
    DrumSample sample{text(j, "name"),
                      text(j, "mic"),
                      list(j, "layers",
                           [&](const json& layer) {
                               return SampleLayer{
                                   {number(layer, "up_to_db", limits::sampleLevel)},
                                   list(layer, "files", [&](const json& file) { return readFile(file, folder); })};
                           }),
                      {number(j, "level_db", limits::level)}};
    sample.inverted = j.contains("inverted") && truth(j, "inverted");
    sample.later = FrameCount{wholeOr(j, "later", 0, -limits::frames, limits::frames)};
    sample.on = !j.contains("on") || truth(j, "on");
    if (j.contains("hits"))
        sample.said = list(j, "hits", readSampleHit);
    return sample;
}

} // namespace lampo
