#pragma once

#include "document/document.h"
#include "look/ink.h"
#include "map/musical_map.h"
#include "sheet/sheet_layout.h"
#include "sheet/time_axis.h"

#include <optional>

namespace lampo {

enum class Show { asPlayed, asLanded, both };

/// All that a picture of the sheet depends on. Painters are functions of it.
struct SheetState {
    const Session* session = nullptr;
    const Outcome* outcome = nullptr;
    TimeAxis axis;
    SheetLayout layout;
    Ink ink;
    Show show = Show::both;
    std::optional<std::size_t> selected; ///< a hit
    /// A landing being dragged: shown instead of the hit's own.
    struct Drag {
        std::size_t hit;
        ResultFrame at;
    };
    std::optional<Drag> drag;
    Range<ResultFrame> loop;

    ResultFrame landingOf(std::size_t hit) const;
    /// Milliseconds, late is positive; none for a hit without a line.
    std::optional<double> latenessOf(std::size_t hit, bool landed) const;
    /// Half the height of the early/late plot, ms; measurePlot() sets it after the outcome changed.
    double plotReach = 20;
    void measurePlot();
    QPointF plotPoint(std::size_t hit, bool landed) const;
    /// First and one-past-last hit that may be visible.
    std::pair<std::size_t, std::size_t> visibleHits() const;
    /// The hit whose notehead in ladder or plot, or whose line in the lanes, is nearest and within reach.
    std::optional<std::size_t> hitAt(QPoint point) const;
};

} // namespace lampo
