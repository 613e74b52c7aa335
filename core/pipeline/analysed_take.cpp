#include "pipeline/analysed_take.h"

#include <algorithm>

namespace lampo {
namespace {

bool setsLanding(const Correction& correction) {
    return aspectOf(correction.kind) == Aspect::landing;
}

/// The session without what no hit of `take` depends on; what landings alone follow from is left out as well.
Session inputsOfHits(const Session& session, TakeIndex take) {
    Session inputs;
    inputs.rate = session.rate;
    inputs.mics = session.mics;
    for (Mic& mic : inputs.mics) {
        mic.level = {};
        mic.mute = mic.solo = false;
    }
    inputs.takes = {session.takes[take]};
    inputs.takes.front().note.clear();
    inputs.takes.front().tint.reset();
    inputs.form = session.form;
    if (!session.sections.empty() || session.finest)
        inputs.map = session.map;
    inputs.sections = session.sections;
    std::erase_if(inputs.sections, [](const Section& section) { return section.beats.has_value(); });
    for (Section& section : inputs.sections) // by what they set for hits alone
        section = {section.name, section.firstBar, section.bars, {}, {}, section.finest, section.detection};
    inputs.clusters = session.clusters;
    inputs.finest = session.finest;
    const TakeLetter letter = session.takes[take].letter;
    inputs.corrections = session.corrections; // shared, where nothing is left out
    inputs.corrections.eraseIf([&](const Correction& c) { return c.take != letter; });
    return inputs;
}

/// What the landings of a take follow from, beside its hits.
Session inputsOfLandings(const Session& session, TakeIndex take) {
    Session inputs;
    inputs.rate = session.rate;
    inputs.map = session.map;
    inputs.sections = session.sections;
    for (Section& section : inputs.sections)
        section.detection.clear();
    inputs.timing = session.timing;
    inputs.assign = session.assign;
    inputs.takes = {session.takes[take]};
    const TakeLetter letter = session.takes[take].letter;
    inputs.corrections = session.corrections;
    inputs.corrections.eraseIf([&](const Correction& c) { return c.take != letter || !setsLanding(c); });
    const auto ofTake = [&](const auto& one) { return one.take == letter; };
    std::copy_if(session.phrases.begin(), session.phrases.end(), std::back_inserter(inputs.phrases), ofTake);
    std::copy_if(session.shoves.begin(), session.shoves.end(), std::back_inserter(inputs.shoves), ofTake);
    std::copy_if(session.slips.begin(), session.slips.end(), std::back_inserter(inputs.slips), ofTake);
    if (session.usesFeel())
        inputs.feels = session.feels;
    inputs.companionLines = session.companionLines;
    return inputs;
}

} // namespace

std::shared_ptr<const AnalysedTake> analyseTake(const Session& session, TakeIndex take, const Analyses& analyses,
                                                std::shared_ptr<const AnalysedTake> before) {
    const Take& files = session.takes[take];
    AnalysedTake next{
        inputsOfHits(session, take), strokesKeyOf(session, analyses.of(session, files)), nullptr, {}, {}};
    const bool sameKey = before && before->strokesKey == next.strokesKey;
    if (sameKey && before->inputs == next.inputs)
        return before;
    next.strokes = sameKey ? before->strokes : analyses.strokesOf(next.strokesKey);
    if (!next.strokes)
        next.strokes = std::make_shared<const TakeStrokes>(findStrokes(session, next.strokesKey.analyses));
    next.mics = next.strokes->mics;
    next.found = findHits(session, files, *next.strokes);
    return std::make_shared<const AnalysedTake>(std::move(next));
}

KeptLay layTake(const Session& session, const std::shared_ptr<const AnalysedTake>& analysed,
                const std::shared_ptr<const std::vector<SongFrame>>& attacks, const LayOrder& order,
                std::span<const KeptLay> before) {
    KeptLay next{inputsOfLandings(session, order.where.take), analysed, attacks, nullptr};
    const auto known = std::find_if(before.begin(), before.end(), [&](const KeptLay& kept) {
        return kept.take == analysed && LayOrder{kept.laid->where, kept.laid->cover} == order &&
               kept.inputs == next.inputs && *kept.attacks == *attacks;
    });
    if (known != before.end())
        return *known;
    next.laid = std::make_shared<const LaidTake>(
        layTake(session, MusicalMap(session.map, session.rate), order, analysed->found.hits, *attacks));
    return next;
}

} // namespace lampo
