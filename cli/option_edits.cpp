#include "option_edits.h"

#include "base/text.h"
#include "base/whole_file.h"
#include "midi/tempo_map.h"
#include "option_values.h"
#include "project/feel_file.h"
#include "project/kit_layout.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo::cli {
namespace {

Error noSuchMic(const Session& session, const std::string& stem) {
    std::string known;
    for (const Mic& mic : session.mics)
        known += (known.empty() ? "" : ", ") + mic.stem;
    return {ErrorKind::badValue,
            fmt::format("There is no mic \"{}\" in {}; there are {}", stem, quotedName(session.title), known)};
}

void addTimingEdits(const Options& options, std::vector<Edit>& edits) {
    if (options.swing)
        edits.emplace_back(SetSwing{{}, options.swing});
    if (options.pocket)
        edits.emplace_back(SetPocket{{}, Milliseconds{*options.pocket}});
    if (options.pull)
        edits.emplace_back(SetPull{{}, *pullNames.named(*options.pull)});
    if (options.reach)
        edits.emplace_back(SetReach{{}, Reach{*options.reach, false}});
    if (options.assign)
        edits.emplace_back(SetAssign{*assignNames.named(*options.assign)});
    for (std::size_t voice = 0; voice < voiceCount && !options.land.empty(); ++voice) {
        const bool lands = std::find(options.land.begin(), options.land.end(), name(static_cast<Voice>(voice))) !=
                           options.land.end();
        edits.emplace_back(
            SetDrumTiming{{}, static_cast<Voice>(voice), lands ? DrumTiming::land : DrumTiming::ride});
    }
}

Expected<void> addDetectionEdits(const Options& options, const Session& session, std::vector<Edit>& edits) {
    if (!options.guides.empty()) {
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            edits.emplace_back(SetGuide{mic, false});
        for (const std::string& stem : options.guides) {
            const auto mic = session.micNamed(stem);
            if (!mic)
                return tl::unexpected(noSuchMic(session, stem));
            edits.emplace_back(SetGuide{*mic, true});
        }
    }
    for (const std::string& text : options.thresholds) {
        const auto cut = text.rfind('=');
        const auto mic = session.micNamed(text.substr(0, cut));
        if (!mic)
            return tl::unexpected(noSuchMic(session, text.substr(0, cut)));
        edits.emplace_back(SetThreshold{*mic, {*numberIn(std::string_view(text).substr(cut + 1))}});
    }
    if (options.oneHit || options.anchor)
        edits.emplace_back(
            SetClusters{{{options.oneHit.value_or(session.clusters.window.value)},
                         anchorNames.named(options.anchor.value_or("")).value_or(session.clusters.anchor)}});
    if (options.shortestGap)
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            edits.emplace_back(SetShortestGap{mic, {*options.shortestGap}});
    return {};
}

Expected<void> addMapEdits(const Options& options, const Session& session, std::vector<Edit>& edits) {
    if (!options.tempoMap.empty()) {
        const auto read =
            readWhole(options.tempoMap, largestMidiFile, "MIDI file").and_then([&](const std::string& bytes) {
                return midiFromBytes(bytes, quotedName(options.tempoMap)).and_then([&](const MidiFile& file) {
                    return tempoMapOf(file, session.rate, quotedName(options.tempoMap));
                });
            });
        if (!read)
            return tl::unexpected(read.error());
        edits.emplace_back(SetMap{read->map, "Tempo map"});
    }
    if (options.tempo)
        edits.emplace_back(SetTempo{{*options.tempo}});
    if (options.meter)
        edits.emplace_back(SetMeter{*meterIn(*options.meter)});
    if (options.origin)
        edits.emplace_back(SetOrigin{*timeIn(*options.origin, session.rate)});
    return {};
}

Expected<void> addLandingEdits(const Options& options, std::vector<Edit>& edits) {
    if (options.grid)
        edits.emplace_back(SetGrid{*noteValueNamed(*options.grid)});
    if (options.strength)
        edits.emplace_back(SetStrength{*options.strength});
    addTimingEdits(options, edits);
    if (!options.feel.empty()) {
        auto feel = readFeelFile(options.feel);
        if (!feel)
            return tl::unexpected(feel.error());
        edits.emplace_back(KeepFeel{*feel});
        edits.emplace_back(UseFeel{{}, FeelUse{feel->name, options.feelAmount}});
    }
    if (options.leadIn)
        edits.emplace_back(SetLeadIn{{*options.leadIn}});
    if (options.fade)
        edits.emplace_back(SetFade{{*options.fade}});
    if (options.fill)
        edits.emplace_back(SetFill{*fillNames.named(*options.fill)});
    if (options.mostStretch)
        edits.emplace_back(SetMostStretch{*options.mostStretch});
    if (options.curve)
        edits.emplace_back(SetFadeCurve{*fadeCurveNames.named(*options.curve)});
    return {};
}

} // namespace

Expected<std::vector<Edit>> editsOf(const Options& options, const Session& session) {
    std::vector<Edit> edits;
    if (!options.kit.empty()) {
        auto mics = loadKitLayout(options.kit);
        if (!mics)
            return tl::unexpected(mics.error());
        edits.emplace_back(ArrangeKit{std::move(*mics)});
    }
    return addDetectionEdits(options, session, edits)
        .and_then([&] { return addMapEdits(options, session, edits); })
        .and_then([&] { return addLandingEdits(options, edits); })
        .map([&] { return std::move(edits); });
}

} // namespace lampo::cli
