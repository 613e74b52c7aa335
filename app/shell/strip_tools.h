#pragma once

#include "session/edit.h"

#include <QRectF>
#include <QString>

#include <optional>
#include <variant>
#include <vector>

namespace lampo {

/// A change of the map as the song strip shows it.
struct StripMark {
    int bar;
    QString text; ///< "104", "2/4", "96 3/4"
    QRectF box;   ///< in the strip
};

/// A drag in the song strip that changes the map or the sections, bar by bar: what it would make of them at any
/// moment, and one edit at release.
class StripTool {
public:
    struct Border { ///< of sections
        int bar;
    };
    struct NewSection {
        int bar;
    };
    struct Mark { ///< a change of the map
        int bar;
    };
    using Grip = std::variant<Border, NewSection, Mark>;

    bool active() const { return grip_.has_value(); }
    void press(const Grip& grip);
    /// The pointer is in this bar; `line` is the nearest bar line.
    void move(int bar, int line);
    void cancel() { grip_.reset(); }
    /// What it makes of them.
    std::vector<Section> sections(const Session& session) const;
    MapData map(const Session& session) const;
    /// None when nothing was moved.
    std::optional<Edit> release(const Session& session);

private:
    std::optional<Grip> grip_;
    int bar_ = 0;
    int line_ = 0;
    bool moved_ = false;
};

} // namespace lampo
