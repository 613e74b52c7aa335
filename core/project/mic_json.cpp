#include "project/mic_json.h"

namespace lampo {

using namespace jsonfields;

json micJson(const Mic& mic) {
    json out{{"stem", mic.stem},
             {"role", name(mic.role)},
             {"guide", mic.guide},
             {"threshold_db", mic.threshold.value},
             {"shortest_gap_ms", mic.shortestGap.value},
             {"judges_bleed", mic.judgesBleed},
             {"level_db", mic.level.value},
             {"mute", mic.mute},
             {"solo", mic.solo}};
    if (!mic.label.empty())
        out["label"] = mic.label;
    if (!mic.group.empty()) {
        out["group"] = mic.group;
        out["linked"] = mic.linked;
    }
    if (mic.emphasis)
        out["emphasis"] = *mic.emphasis;
    return out;
}

namespace {

BandWeights readEmphasis(const json& j) {
    const auto read = list(j, "emphasis", [](const json& weight) {
        const double value = weight.is_number() ? weight.get<double>() : 0;
        return limits::bandWeight.low <= value && value <= limits::bandWeight.high
                   ? value
                   : throw Damage{"\"emphasis\" is not in its range"};
    });
    BandWeights weights{};
    if (read.size() != weights.size())
        throw Damage{"\"emphasis\" does not have four bands"};
    std::copy(read.begin(), read.end(), weights.begin());
    return weights;
}

} // namespace

Mic readMic(const json& j) {
    Mic mic;
    mic.stem = text(j, "stem");
    mic.role = known(roleNames.named(text(j, "role")), "role");
    mic.guide = truth(j, "guide");
    mic.threshold = {number(j, "threshold_db", limits::threshold)};
    mic.shortestGap = {number(j, "shortest_gap_ms", limits::shortestGap)};
    mic.level = {number(j, "level_db", limits::level)};
    mic.mute = truth(j, "mute");
    mic.solo = truth(j, "solo");
    if (j.contains("judges_bleed"))
        mic.judgesBleed = truth(j, "judges_bleed");
    if (j.contains("label"))
        mic.label = text(j, "label");
    if (j.contains("group")) {
        mic.group = text(j, "group");
        mic.linked = truth(j, "linked");
    }
    if (j.contains("emphasis"))
        mic.emphasis = readEmphasis(j);
    return mic;
}

std::vector<Mic> readMics(const json& j) {
    auto mics = list(j, "mics", readMic);
    if (mics.size() > limits::mics)
        throw Damage{"it has more mics than a kit can have"};
    return mics;
}

} // namespace lampo
