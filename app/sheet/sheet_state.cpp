#include "sheet/sheet_state.h"

#include <algorithm>
#include <cmath>

namespace lampo {

ResultFrame SheetState::landingOf(std::size_t hit) const {
    return drag && drag->hit == hit ? drag->at : outcome->landings[hit].at;
}

std::optional<double> SheetState::latenessOf(std::size_t hit, bool landed) const {
    const Landing& landing = outcome->landings[hit];
    if (!landing.line)
        return std::nullopt;
    const ResultFrame at = landed ? landingOf(hit) : asResult(landing.played);
    return toMilliseconds(at - asResult(landing.line->frame), session->rate).value;
}

void SheetState::measurePlot() {
    double worst = 0;
    for (const Landing& landing : outcome->landings)
        if (landing.line)
            worst = std::max(
                worst,
                std::abs(
                    toMilliseconds(asResult(landing.played) - asResult(landing.line->frame), session->rate).value));
    for (const double reach : {20.0, 40.0, 60.0, 120.0}) {
        plotReach = reach;
        if (worst <= reach)
            return;
    }
    plotReach = 250;
}

QPointF SheetState::plotPoint(std::size_t hit, bool landed) const {
    const QRect plot = layout.plot;
    const double half = plot.height() / 2.0 - 8;
    const double late = std::clamp(latenessOf(hit, landed).value_or(0) / plotReach, -1.0, 1.0);
    const double frame = static_cast<double>(landed ? landingOf(hit).frame : outcome->landings[hit].played.frame);
    return {axis.toX(frame), plot.center().y() + late * half};
}

std::pair<std::size_t, std::size_t> SheetState::visibleHits() const {
    const auto& landings = outcome->landings;
    const double margin = 20 * axis.framesPerPixel();
    const auto both = [](const Landing& l) { return std::pair(l.played.frame, l.at.frame); };
    const auto first = std::partition_point(landings.begin(), landings.end(), [&](const Landing& l) {
        return static_cast<double>(std::max(both(l).first, both(l).second)) < axis.firstFrame() - margin;
    });
    const auto last = std::partition_point(first, landings.end(), [&](const Landing& l) {
        return static_cast<double>(std::min(both(l).first, both(l).second)) < axis.lastFrame() + margin;
    });
    return {static_cast<std::size_t>(first - landings.begin()), static_cast<std::size_t>(last - landings.begin())};
}

std::optional<std::size_t> SheetState::hitAt(QPoint point) const {
    if (!outcome)
        return std::nullopt;
    const auto [first, last] = visibleHits();
    std::optional<std::size_t> nearest;
    double least = 9; // pixels
    const auto consider = [&](std::size_t hit, double distance) {
        if (distance < least) {
            least = distance;
            nearest = hit;
        }
    };
    for (std::size_t hit = first; hit < last; ++hit) {
        const double playedX = axis.toX(static_cast<double>(outcome->landings[hit].played.frame));
        const double landedX = axis.toX(static_cast<double>(landingOf(hit).frame));
        if (layout.ladder.contains(point)) {
            consider(hit, std::hypot(point.x() - playedX, point.y() - layout.ladderPlayedY()));
            consider(hit, std::hypot(point.x() - landedX, point.y() - layout.ladderLandedY()));
        } else if (layout.plot.contains(point)) {
            for (const bool landed : {false, true}) {
                const QPointF away = plotPoint(hit, landed) - point;
                consider(hit, std::hypot(away.x(), away.y()));
            }
        } else {
            consider(hit, std::abs(point.x() - (show == Show::asPlayed ? playedX : landedX)));
        }
    }
    return nearest;
}

} // namespace lampo
