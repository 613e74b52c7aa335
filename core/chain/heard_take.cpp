#include "chain/heard_take.h"

#include <algorithm>

namespace lampo {
namespace {

bool setsLanding(const Correction& correction) {
    return aspectOf(correction.kind) == Aspect::landing;
}

/// The session without what no hit of `take` depends on; what landings alone follow from is left out as well.
Session askedOfHits(const Session& session, std::size_t take) {
    Session asked;
    asked.rate = session.rate;
    asked.mics = session.mics;
    for (Mic& mic : asked.mics) {
        mic.level = {};
        mic.mute = mic.solo = false;
    }
    asked.takes = {session.takes[take]};
    asked.takes.front().note.clear();
    asked.takes.front().tint.reset();
    asked.form = session.form;
    if (!session.sections.empty() || session.finest)
        asked.map = session.map;
    asked.sections = session.sections;
    std::erase_if(asked.sections, [](const Section& section) { return section.beats.has_value(); });
    for (Section& section : asked.sections) // by what they set for hits alone
        section = {section.name, section.firstBar, section.bars, {}, {}, section.finest, section.listening};
    asked.clusters = session.clusters;
    asked.finest = session.finest;
    const char letter = session.takes[take].letter;
    asked.corrections = session.corrections; // shared, where nothing is left out
    asked.corrections.eraseIf([&](const Correction& c) { return c.take != letter; });
    return asked;
}

/// What the landings of a take follow from, beside its hits.
Session askedOfLandings(const Session& session, std::size_t take) {
    Session asked;
    asked.rate = session.rate;
    asked.map = session.map;
    asked.sections = session.sections;
    for (Section& section : asked.sections)
        section.listening.clear();
    asked.timing = session.timing;
    asked.assign = session.assign;
    asked.takes = {session.takes[take]};
    const char letter = session.takes[take].letter;
    asked.corrections = session.corrections;
    asked.corrections.eraseIf([&](const Correction& c) { return c.take != letter || !setsLanding(c); });
    const auto ofTake = [&](const auto& one) { return one.take == letter; };
    std::copy_if(session.phrases.begin(), session.phrases.end(), std::back_inserter(asked.phrases), ofTake);
    std::copy_if(session.shoves.begin(), session.shoves.end(), std::back_inserter(asked.shoves), ofTake);
    std::copy_if(session.slips.begin(), session.slips.end(), std::back_inserter(asked.slips), ofTake);
    if (session.usesFeel())
        asked.feels = session.feels;
    asked.towards = session.towards;
    return asked;
}

} // namespace

std::shared_ptr<const HeardTake> hearTake(const Session& session, std::size_t take, const Analyses& analyses,
                                          std::shared_ptr<const HeardTake> before) {
    const Take& files = session.takes[take];
    HeardTake next{askedOfHits(session, take), strokesKeyOf(session, analyses.of(session, files)), nullptr, {}, {}};
    const bool sameKey = before && before->strokesKey == next.strokesKey;
    if (sameKey && before->asked == next.asked)
        return before;
    next.strokes = sameKey ? before->strokes : analyses.strokesOf(next.strokesKey);
    if (!next.strokes)
        next.strokes = std::make_shared<const TakeStrokes>(findStrokes(session, next.strokesKey.analyses));
    next.heard = next.strokes->mics;
    next.found = findHits(session, files, *next.strokes);
    return std::make_shared<const HeardTake>(std::move(next));
}

KeptLay layTake(const Session& session, const std::shared_ptr<const HeardTake>& heard,
                const std::shared_ptr<const std::vector<SongFrame>>& attacks, const Placed& where,
                Range<SongFrame> cover, std::span<const KeptLay> before) {
    KeptLay next{askedOfLandings(session, where.take), heard, attacks, nullptr};
    const auto known = std::find_if(before.begin(), before.end(), [&](const KeptLay& kept) {
        return kept.heard == heard && kept.laid->where == where && kept.laid->cover == cover &&
               kept.asked == next.asked && *kept.attacks == *attacks;
    });
    if (known != before.end())
        return *known;
    next.laid = std::make_shared<const LaidTake>(
        layTake(session, MusicalMap(session.map, session.rate), where, cover, heard->found.hits, *attacks));
    return next;
}

} // namespace lampo
