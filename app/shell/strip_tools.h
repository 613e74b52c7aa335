#pragma once

#include "edits/edit.h"

#include <QRectF>
#include <QString>

#include <optional>
#include <variant>
#include <vector>

namespace lampo {

/// A change of the map as the song strip shows it.
struct StripMark {
    BarBeat place;
    QString text; ///< "104", "2/4", "96 3/4"
    QRectF box;   ///< in the strip
};

/// A drag in the song strip that changes the map or the sections, bar by bar. Every step is an edit of one gesture,
/// so that what follows from it is seen and heard at once.
class StripTool {
public:
    struct Border { ///< of sections
        int bar;
    };
    struct NewSection {
        int bar;
    };
    struct Mark { ///< a change of the map
        BarBeat place;
    };
    using Grip = std::variant<Border, NewSection, Mark>;

    bool active() const { return grip_.has_value(); }
    int gesture() const { return gesture_; }
    void press(const Grip& grip, const Session& session, int gesture);
    /// The pointer is in this bar; `line` is the nearest bar line.
    Edit move(int bar, int line) const;
    void release() { grip_.reset(); }

private:
    std::optional<Grip> grip_;
    int gesture_ = 0;
    std::vector<Section> sections_; ///< as they were when it was pressed
    MapData map_;
};

} // namespace lampo
