#include "edits/hand_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "session/refusals.h"

#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

Expected<void> makePhrase(Session& session, const Phrase& phrase) {
    if (!session.takeLettered(phrase.take))
        return noSuch("take");
    if (phrase.last <= phrase.first)
        return refuse("A phrase goes from one hit to a later one");
    if (auto fits = inRange(phrase.ease, limits::ease, "The easing of a phrase"); !fits)
        return fits;
    session.phrases = withPhrase(session.phrases, phrase);
    return {};
}

Expected<void> setMove(const Session& session, std::vector<PassageMove>& moves, const PassageMove& move) {
    if (!session.takeLettered(move.take))
        return noSuch("take");
    if (move.range.empty())
        return refuse("Choose the hits of the passage first");
    if (auto fits =
            inRange(toMilliseconds(move.by, session.rate).value, limits::passageMove, "The move of a passage");
        !fits)
        return fits;
    moves = withMove(moves, move);
    return {};
}

void clear(Session& session, const ClearByHand& e) {
    session.corrections.eraseIf([&](const Correction& c) { return c.take == e.take && e.range.contains(c.at); });
    std::erase_if(session.phrases, [&](const Phrase& phrase) {
        return phrase.take == e.take && phrase.first < e.range.end && e.range.begin <= phrase.last;
    });
    session.shoves = withMove(session.shoves, {e.take, e.range, {}});
    session.slips = withMove(session.slips, {e.take, e.range, {}});
}

std::string signedMs(FrameCount by, SampleRate rate) {
    const double ms = toMilliseconds(by, rate).value;
    return fmt::format("{}{} ms", ms < 0 ? "" : "+", withMinus(ms));
}

} // namespace

Expected<void> apply(const HandEdit& edit, Session& session) {
    return std::visit(Overloaded{[&](const MakePhrase& e) { return makePhrase(session, e.phrase); },
                                 [&](const DeletePhrase& e) -> Expected<void> {
                                     if (e.index >= session.phrases.size())
                                         return noSuch("phrase");
                                     session.phrases.erase(session.phrases.begin() +
                                                           static_cast<std::ptrdiff_t>(e.index));
                                     return {};
                                 },
                                 [&](const Shove& e) { return setMove(session, session.shoves, e.move); },
                                 [&](const Slip& e) { return setMove(session, session.slips, e.move); },
                                 [&](const ClearByHand& e) {
                                     clear(session, e);
                                     return Expected<void>{};
                                 }},
                      edit);
}

std::string describe(const Session& session, const HandEdit& edit) {
    const auto moved = [&](const char* what, const PassageMove& move) {
        return move.by == FrameCount{} ? "No " + std::string(what)
                                       : fmt::format("{} {}", what, signedMs(move.by, session.rate));
    };
    return std::visit(Overloaded{[](const MakePhrase& e) {
                                     return e.phrase.ease > 0 ? fmt::format("Phrase eased by {} %",
                                                                            trimmedNumber(e.phrase.ease, 0))
                                                              : std::string("Phrase");
                                 },
                                 [](const DeletePhrase&) { return std::string("Delete a phrase"); },
                                 [&](const Shove& e) { return moved("shove", e.move); },
                                 [&](const Slip& e) { return moved("slip", e.move); },
                                 [](const ClearByHand&) { return std::string("Clear what was done by hand"); }},
                      edit);
}

} // namespace lampo
