#include "proof/summary.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace lampo {
namespace {

Tightness tightnessOf(std::span<const double> late) {
    Tightness figures;
    if (late.empty())
        return figures;
    const auto count = static_cast<double>(late.size());
    figures.hits = late.size();
    figures.mean = {std::accumulate(late.begin(), late.end(), 0.0) / count};
    double squares = 0;
    for (const double ms : late) {
        squares += (ms - figures.mean.value) * (ms - figures.mean.value);
        if (std::abs(ms) > std::abs(figures.worst.value))
            figures.worst = {ms};
        figures.withinFive += std::abs(ms) <= 5 ? 1 / count : 0;
    }
    figures.spread = {std::sqrt(squares / count)};
    return figures;
}

} // namespace

ProofSummary summaryOf(const Session& session, const Outcome& outcome,
                       std::span<const std::optional<Milliseconds>> heard) {
    ProofSummary summary;
    summary.hits = outcome.hits.size();
    summary.seams = outcome.plan->seams.size();
    summary.patches = outcome.plan->patches.size();
    for (TakeIndex take; take < session.takes.size(); ++take)
        if (session.sounds(take))
            summary.takes.push_back(session.takes[take].letter.text());
    std::array<std::array<std::vector<double>, 2>, voiceCount> late;
    for (std::size_t hit = 0; hit < outcome.hits.size(); ++hit) {
        const Landing& landing = outcome.landings[hit];
        if (!landing.line || outcome.hits[hit].bare)
            continue;
        const double offMark = !heard.empty() && heard[hit] ? heard[hit]->value : 0;
        auto& [before, after] = late[static_cast<std::size_t>(outcome.hits[hit].voice)];
        before.push_back(deviation(landing, Moment::asPlayed, session.rate).value + offMark);
        after.push_back(deviation(landing, Moment::asLanded, session.rate).value + offMark);
    }
    for (std::size_t voice = 0; voice < voiceCount; ++voice)
        if (!late[voice][0].empty())
            summary.drums.push_back(
                {static_cast<Voice>(voice), tightnessOf(late[voice][0]), tightnessOf(late[voice][1])});
    return summary;
}

void countPlaces(ProofSummary& summary, std::span<const ProofPlace> places) {
    summary.open = summary.fine = summary.later = {};
    for (const ProofPlace& place : places) {
        auto& counts = place.state == ProofState::open   ? summary.open
                       : place.state == ProofState::fine ? summary.fine
                                                         : summary.later;
        ++counts[static_cast<std::size_t>(place.kind)];
    }
}

} // namespace lampo
