#include "session/by_hand.h"

#include <algorithm>

namespace lampo {

std::vector<PassageMove> withMove(const std::vector<PassageMove>& moves, const PassageMove& added) {
    std::vector<PassageMove> result;
    for (const PassageMove& move : moves) {
        if (move.take != added.take || move.range.intersected(added.range).empty()) {
            result.push_back(move);
            continue;
        }
        if (move.range.begin < added.range.begin)
            result.push_back({move.take, {move.range.begin, added.range.begin}, move.by});
        if (added.range.end < move.range.end)
            result.push_back({move.take, {added.range.end, move.range.end}, move.by});
    }
    if (added.by != FrameCount{})
        result.push_back(added);
    std::sort(result.begin(), result.end(), [](const PassageMove& a, const PassageMove& b) {
        return std::pair(a.take, a.range.begin) < std::pair(b.take, b.range.begin);
    });
    return result;
}

FrameCount movedBy(const std::vector<PassageMove>& moves, TakeLetter take, SourceFrame at) {
    const auto found = std::find_if(moves.begin(), moves.end(), [&](const PassageMove& move) {
        return move.take == take && move.range.contains(at);
    });
    return found == moves.end() ? FrameCount{} : found->by;
}

std::vector<Phrase> withPhrase(const std::vector<Phrase>& phrases, const Phrase& added) {
    std::vector<Phrase> result = phrases;
    std::erase_if(result, [&](const Phrase& phrase) {
        return phrase.take == added.take && phrase.first < added.last && added.first < phrase.last;
    });
    result.push_back(added);
    std::sort(result.begin(), result.end(), [](const Phrase& a, const Phrase& b) {
        return std::pair(a.take, a.first) < std::pair(b.take, b.first);
    });
    return result;
}

} // namespace lampo
