#include "project/by_hand_json.h"

#include "base/text.h"
#include "session/validate.h"

#include <algorithm>

namespace lampo {
namespace {

using namespace jsonfields;

constexpr std::int64_t longest = limits::frames;

json phraseJson(const Phrase& phrase) {
    return {{"take", phrase.take.text()},
            {"first", phrase.first.frame},
            {"last", phrase.last.frame},
            {"ease", phrase.ease}};
}

Phrase readPhrase(const json& j) {
    const Phrase phrase{letter(j, "take"), SourceFrame{whole(j, "first", -longest, longest)},
                        SourceFrame{whole(j, "last", -longest, longest)}, number(j, "ease", limits::ease)};
    if (phrase.last <= phrase.first)
        throw Damage{"a phrase ends before it begins"};
    return phrase;
}

json moveJson(const PassageMove& move) {
    return {{"take", move.take.text()},
            {"begin", move.range.begin.frame},
            {"end", move.range.end.frame},
            {"by", move.by.frames}};
}

PassageMove readMove(const json& j) {
    const PassageMove move{
        letter(j, "take"),
        {SourceFrame{whole(j, "begin", -longest, longest)}, SourceFrame{whole(j, "end", -longest, longest)}},
        FrameCount{whole(j, "by", -longest, longest)}};
    if (move.range.empty())
        throw Damage{"a moved passage is empty"};
    return move;
}

json seamJson(const SeamByHand& seam) {
    json j{{"take", seam.between.take.text()},
           {"before", seam.between.before.frame},
           {"behind", seam.between.behind.frame}};
    if (seam.ahead)
        j["ahead"] = seam.ahead->frames;
    if (seam.fade)
        j["fade_ms"] = seam.fade->value;
    if (seam.curve)
        j["curve"] = fadeCurveNames.of(*seam.curve);
    if (seam.fill)
        j["fill"] = fillNames.of(*seam.fill);
    return j;
}

SeamByHand readSeam(const json& j) {
    SeamByHand seam{{letter(j, "take"), SourceFrame{whole(j, "before", -longest, longest)},
                     SourceFrame{whole(j, "behind", -longest, longest)}},
                    {},
                    {},
                    {},
                    {}};
    if (j.contains("ahead"))
        seam.ahead = FrameCount{whole(j, "ahead", -longest, longest)};
    if (j.contains("fade_ms"))
        seam.fade = Milliseconds{number(j, "fade_ms", limits::fade)};
    if (j.contains("curve"))
        seam.curve = known(fadeCurveNames.named(text(j, "curve")), "curve");
    if (j.contains("fill"))
        seam.fill = known(fillNames.named(text(j, "fill")), "fill");
    return seam;
}

json placeJson(const TakePlace& place) {
    return {{"take", place.take.text()}, {"at", place.at.frame}};
}

TakePlace readPlace(const json& j) {
    return {letter(j, "take"), SourceFrame{whole(j, "at", -longest, longest)}};
}

json patchJson(const Patch& patch) {
    json j = placeJson(patch.at);
    j["kind"] = patchKindNames.of(patch.kind);
    j["mics"] = patch.mics;
    j["before"] = patch.before.frames;
    j["length"] = patch.length.frames;
    j["fade_in_ms"] = patch.fadeIn.value;
    j["fade_out_ms"] = patch.fadeOut.value;
    if (!patch.ofHit)
        j["of_hit"] = false;
    if (patch.gain.value != 0)
        j["gain_db"] = patch.gain.value;
    if (patch.shift.frames != 0)
        j["shift"] = patch.shift.frames;
    if (patch.from)
        j["from"] = placeJson(*patch.from);
    if (!patch.on)
        j["on"] = false;
    return j;
}

Patch readPatch(const json& j) {
    Patch patch;
    patch.kind = known(patchKindNames.named(text(j, "kind")), "kind");
    patch.mics = list(j, "mics", [](const json& mic) { return anyText(mic, "mics"); });
    patch.at = readPlace(j);
    patch.ofHit = !j.contains("of_hit") || truth(j, "of_hit");
    patch.before = FrameCount{wholeOr(j, "before", 0, -longest, longest)};
    patch.length = FrameCount{whole(j, "length", 1, longest)};
    if (j.contains("fade_in_ms"))
        patch.fadeIn = {number(j, "fade_in_ms", limits::patchFade)};
    if (j.contains("fade_out_ms"))
        patch.fadeOut = {number(j, "fade_out_ms", limits::patchFade)};
    if (j.contains("gain_db"))
        patch.gain = {number(j, "gain_db", limits::patchGain)};
    patch.shift = FrameCount{wholeOr(j, "shift", 0, -longest, longest)};
    if (j.contains("from"))
        patch.from = readPlace(member(j, "from"));
    patch.on = !j.contains("on") || truth(j, "on");
    return patch;
}

json answerJson(const ProofAnswer& answer) {
    json j{{"kind", proofKindNames.of(answer.kind)},
           {"content", hexadecimal(answer.content)},
           {"state", proofStateNames.of(answer.state)}};
    if (!answer.note.empty())
        j["note"] = answer.note;
    return j;
}

ProofAnswer readAnswer(const json& j) {
    return {known(proofKindNames.named(text(j, "kind")), "kind"),
            known(numberOfHexadecimal(text(j, "content")), "content"),
            known(proofStateNames.named(text(j, "state")), "state"), j.contains("note") ? text(j, "note") : ""};
}

/// In order and apart, whatever order they were stored in.
template <class Item, class Adder>
std::vector<Item> readMoves(const json& j, const char* key, Item (*read)(const json&), Adder&& add) {
    std::vector<Item> all;
    if (j.contains(key))
        for (const Item& item : list(j, key, read))
            all = add(all, item);
    return all;
}

} // namespace

json feelJson(const Feel& feel) {
    return {{"name", feel.name},
            {"quarters", feel.bar},
            {"places", listJson(feel.points, [](const FeelPoint& point) {
                 return json{{"at", point.quarters}, {"late", point.late}, {"level_db", point.level.value}};
             })}};
}

Feel readFeel(const json& j) {
    Feel feel{text(j, "name"), number(j, "quarters", 0.125, longestFeelBar), list(j, "places", [](const json& p) {
                  return FeelPoint{number(p, "at", 0, longestFeelBar),
                                   number(p, "late", -longestFeelBar, longestFeelBar),
                                   {number(p, "level_db", -200, 200)}};
              })};
    if (!isFeel(feel))
        throw Damage{"the places of a feel do not lie in its bar in the order they are played"};
    return feel;
}

json feelUseJson(const FeelUse& use) {
    return {{"name", use.name}, {"amount", use.amount}};
}

FeelUse readFeelUse(const json& j) {
    return {text(j, "name"), number(j, "amount", limits::feelAmount)};
}

void writeByHand(const Session& session, json& out) {
    if (!session.phrases.empty())
        out["phrases"] = listJson(session.phrases, phraseJson);
    if (!session.shoves.empty())
        out["shoves"] = listJson(session.shoves, moveJson);
    if (!session.slips.empty())
        out["slips"] = listJson(session.slips, moveJson);
    if (!session.seamsByHand.empty())
        out["seams_by_hand"] = listJson(session.seamsByHand, seamJson);
    if (!session.patches.empty())
        out["patches"] = listJson(session.patches, patchJson);
    if (!session.proofAnswers.empty())
        out["proof"] = listJson(session.proofAnswers, answerJson);
    if (!session.feels.empty())
        out["feels"] = listJson(session.feels, feelJson);
    if (!session.timing.feel.straight())
        out["feel"] = feelUseJson(session.timing.feel);
    if (session.companionLines)
        out["land_on"] = {{"companion", session.companionLines->name},
                          {"near_ms", session.companionLines->near.value},
                          {"threshold_db", session.companionLines->threshold.value}};
}

void readByHand(const json& j, Session& session) {
    session.phrases = readMoves<Phrase>(j, "phrases", readPhrase, withPhrase);
    session.shoves = readMoves<PassageMove>(j, "shoves", readMove, withMove);
    session.slips = readMoves<PassageMove>(j, "slips", readMove, withMove);
    session.seamsByHand = readMoves<SeamByHand>(j, "seams_by_hand", readSeam, withSeam);
    if (j.contains("patches"))
        session.patches = list(j, "patches", readPatch);
    if (j.contains("proof"))
        session.proofAnswers = list(j, "proof", readAnswer);
    if (j.contains("feels"))
        session.feels = list(j, "feels", readFeel);
    if (j.contains("feel"))
        session.timing.feel = readFeelUse(member(j, "feel"));
    const auto isKept = [&](const FeelUse& use) { return use.straight() || session.feelNamed(use.name); };
    if (!isKept(session.timing.feel) ||
        !std::all_of(session.sections.begin(), session.sections.end(),
                     [&](const Section& section) { return !section.feel || isKept(*section.feel); }))
        throw Damage{"the feel in use is not among its feels"};
    if (j.contains("land_on")) {
        const json& lines = member(j, "land_on");
        session.companionLines = CompanionLines{text(lines, "companion"),
                                                {number(lines, "near_ms", limits::companionNear)},
                                                {number(lines, "threshold_db", limits::threshold)}};
    }
}

} // namespace lampo
