#pragma once

#include "advice/take_advice.h"
#include "sheet/sheet_state.h"

namespace lampo {

/// What borders and sweeps keep to.
enum class Snap { bars, cuts, nowhere };

/// Rows of the take strip: one for each take, and the comp under them.
struct TakesLayout {
    std::vector<QRect> rows; ///< one per take
    QRect comp;
    int left = 0; ///< where the shared time axis begins

    static TakesLayout of(QSize size, int left, std::size_t takes);
    static int heightFor(std::size_t takes, int lineHeight);
    /// The take whose row this is.
    std::optional<TakeIndex> rowAt(QPoint point) const;
    QRect all() const { return rows.empty() ? comp : rows.front().united(comp); }
};

/// All that the picture of the take strip depends on. It shares its axis, ink and loop with the sheet.
struct TakesState {
    const SheetState* sheet = nullptr;
    TakesLayout layout;
    TakeMeasures measures;
    Snap snap = Snap::bars;
    std::optional<TakeIndex> row;      ///< the take that keys speak of
    Range<SongFrame> range;            ///< what is chosen; empty: nothing
    std::optional<std::size_t> border; ///< the passage whose begin is the chosen border
    /// Being swept; without a take only the range is chosen.
    struct Sweep {
        std::optional<TakeIndex> take;
        Range<SongFrame> range;
    };
    std::optional<Sweep> sweep;
    struct BorderDrag {
        std::size_t passage;
        SongFrame at;
    };
    std::optional<BorderDrag> borderDrag;
    /// A stretch of a take on its way to another place.
    struct Carried {
        TakeIndex take;
        Range<SongFrame> from;
        SongFrame to;
    };
    std::optional<Carried> carried;
    /// A whole take on its way along the song.
    struct Slid {
        TakeIndex take;
        FrameCount by;
    };
    std::optional<Slid> slid;

    const Session& session() const { return *sheet->session; }
    const Outcome& outcome() const { return *sheet->outcome; }
    double toX(SongFrame at) const { return layout.left + sheet->axis.toX(at); }
    SongFrame toFrame(int x) const;
    /// The place that a sweep or border keeps to; a take's own cuts, or those that sound.
    SongFrame snapped(SongFrame at, std::optional<TakeIndex> take, bool free) const;
    /// The bar around a place.
    Range<SongFrame> barAround(SongFrame at) const;
    /// The passage whose begin lies under the point.
    std::optional<std::size_t> borderUnder(QPoint point) const;
};

} // namespace lampo
