#include "deliver/report.h"

#include "deliver/report_json.h"
#include "deliver/summary_json.h"
#include "map/musical_map.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

using nlohmann::json;

double rounded(double value, double step) {
    return std::round(value / step) * step;
}

std::string letterOf(const Session& session, TakeIndex take) {
    return session.takes[take].letter.text();
}

json micsJson(const Session& session, const Analyses& analyses, const Outcome& outcome) {
    json list = json::array();
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        const auto& file = session.take().files[mic];
        const auto analysis =
            session.mics[mic].guide ? analyses.of(analysisKey(session, session.take(), mic)) : nullptr;
        const TakeStrokes& strokes = *outcome.takes[session.lead()]->strokes;
        const auto hits = std::count_if(outcome.hits.begin(), outcome.hits.end(),
                                        [&](const Hit& hit) { return (hit.detectedBy & onlyMic(mic)) != 0; });
        list.push_back({{"file", file.file.filename().string()},
                        {"role", name(session.mics[mic].role)},
                        {"guide", session.mics[mic].guide},
                        {"candidates", analysis ? analysis->candidates.size() : 0},
                        {"hits", hits},
                        {"idle", strokes.isIdle(mic)}});
    }
    return list;
}

json micNames(const Session& session, MicSet mics) {
    json list = json::array();
    for (MicIndex mic; mic < std::min(session.mics.size(), limits::mics); ++mic)
        if (mics & onlyMic(mic))
            list.push_back(session.mics[mic].stem);
    return list;
}

/// Where the hit is meant to be; for one without a line, where it lands.
BarBeat meantPlace(const MusicalMap& map, const Landing& landing) {
    return landing.line ? landing.line->place : map.barBeat(asSong(landing.at));
}

json hitsJson(const Session& session, const Outcome& outcome) {
    const MusicalMap map(session.map, session.rate);
    json list = json::array();
    for (std::size_t i = 0; i < outcome.hits.size(); ++i) {
        const SongHit& hit = outcome.hits[i];
        const Landing& landing = outcome.landings[i];
        const BarBeat place = meantPlace(map, landing);
        list.push_back({{"id", i},
                        {"take", letterOf(session, hit.take)},
                        {"source", hit.anchor.frame},
                        {"landing", landing.at.frame},
                        {"voice", name(hit.voice)},
                        {"mics", micNames(session, hit.detectedBy)},
                        {"level_db", rounded(hit.level.value, 0.01)},
                        {"bar", place.bar},
                        {"beat", rounded(place.beat, 1e-6)},
                        {"state", name(landing.state)}});
    }
    return list;
}

/// All strokes of all drums in the takes that sound, guides or not.
json strokesJson(const Session& session, const Outcome& outcome) {
    json list = json::array();
    for (TakeIndex take; take < session.takes.size(); ++take) {
        if (!session.sounds(take))
            continue;
        for (const Stroke& stroke : outcome.takes[take]->strokes->strokes)
            list.push_back({{"take", letterOf(session, take)},
                            {"at", stroke.at.frame},
                            {"drum", name(stroke.voice)},
                            {"level_db", rounded(stroke.level.value, 0.01)},
                            {"mic", session.mics[stroke.mic].stem},
                            {"guide", session.mics[stroke.mic].guide},
                            {"own_date", stroke.ownDate}});
    }
    return list;
}

/// Slices tile the result: one ends where the next begins to sound, so a slice's opening seam belongs to it. Only
/// holes that were left open lie between slices.
json slicesJson(const Session& session, const Plan& plan) {
    json list = json::array();
    for (std::size_t i = 0; i < plan.segments.size(); ++i) {
        const Segment& segment = plan.segments[i];
        const ResultFrame end = i + 1 < plan.segments.size()
                                    ? std::min(segment.sounds.end, plan.segments[i + 1].sounds.begin)
                                    : segment.sounds.end;
        if (end == segment.sounds.begin)
            continue; // sounds only while the next one comes up
        list.push_back({{"take", letterOf(session, segment.take)},
                        {"source_start", segment.sourceAt(segment.sounds.begin).frame},
                        {"source_end", segment.sourceAt(end).frame},
                        {"result_start", segment.sounds.begin.frame},
                        {"result_end", end.frame}});
    }
    return list;
}

json seamJson(const Seam& seam) {
    json entry{
        {"start", seam.range.begin.frame}, {"length", seam.range.length().frames}, {"kind", name(seam.kind)}};
    if (seam.kind == SeamKind::stretched)
        entry["stretch"] = rounded(seam.stretch, 0.0001);
    if (seam.kind == SeamKind::repeated)
        entry["again"] = seam.again.frames;
    entry["by"] = placedByNames.of(seam.by);
    if (seam.by == PlacedBy::search) {
        entry["dip_db"] = rounded(seam.dip, 0.01);
        entry["ruled_dip_db"] = rounded(seam.ruledDip, 0.01);
        entry["ring_db"] = rounded(seam.ring, 0.01);
    }
    return entry;
}

/// All patches in the order they were made; those that sound more than once say so with several places.
json patchesJson(const Session& session, const Plan& plan) {
    json list = json::array();
    for (std::size_t index = 0; index < session.patches.size(); ++index) {
        const Patch& patch = session.patches[index];
        json entry{{"at", nullptr},
                   {"length", patch.length.frames},
                   {"kind", patchKindNames.of(patch.kind)},
                   {"mics", patch.mics},
                   {"gain_db", rounded(patch.gain.value, 0.01)},
                   {"shift", patch.shift.frames},
                   {"from", nullptr},
                   {"on", patch.on}};
        if (patch.from)
            entry["from"] = {{"take", patch.from->take.text()}, {"at", patch.from->at.frame}};
        bool sounds = false;
        for (const PlannedPatch& planned : plan.patches)
            if (planned.patch == index) {
                entry["at"] = planned.sounds.begin.frame;
                entry["length"] = planned.sounds.length().frames;
                list.push_back(entry);
                sounds = true;
            }
        if (!sounds)
            list.push_back(entry);
    }
    return list;
}

} // namespace

json reportJson(const Session& session, const Analyses& analyses, const Outcome& outcome,
                const ProofSummary* proof) {
    json seams = json::array();
    for (const Seam& seam : outcome.plan->seams)
        seams.push_back(seamJson(seam));
    json warnings = json::array();
    for (const Warning& warning : outcome.warnings)
        warnings.push_back({{"at", warning.at.frame}, {"kind", name(warning.kind)}, {"text", warning.text}});
    json report{{"schema", "lampo-report-1"},
                {"sample_rate", session.rate.hz},
                {"length", session.length().frames},
                {"mics", micsJson(session, analyses, outcome)},
                {"hits", hitsJson(session, outcome)},
                {"strokes", strokesJson(session, outcome)},
                {"slices", slicesJson(session, *outcome.plan)},
                {"seams", seams},
                {"warnings", warnings}};
    if (!session.patches.empty())
        report["patches"] = patchesJson(session, *outcome.plan);
    if (proof)
        report["proof"] = summaryJson(*proof);
    return report;
}

std::string reportText(const Session& session, const Analyses& analyses, const Outcome& outcome,
                       const ProofSummary* proof) {
    return reportJson(session, analyses, outcome, proof).dump(1, ' ', false, json::error_handler_t::replace) + "\n";
}

} // namespace lampo
