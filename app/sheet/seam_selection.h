#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Seams come and go with their hits; what was chosen stays chosen as long as its hits are there, wherever it moves
/// between them. A seam that lies between no two hits is found again only where it was.
class SeamSelection {
public:
    struct Seams {
        std::vector<SeamIndex> all; ///< ascending
        std::optional<SeamIndex> current;
        bool operator==(const Seams&) const = default;
    };
    /// What a click on a seam chooses: it alone, with Shift all from the current one to it, with Control it as well
    /// or no longer. A plain click on one of several keeps them.
    static Seams clicked(const SheetState& state, SeamIndex seam, Qt::KeyboardModifiers keys);

    void remember(const SheetState& state, const Seams& seams);
    Seams findAgain(const SheetState& state) const;

private:
    std::vector<Seam> all_;
    std::optional<Seam> current_;
};

} // namespace lampo
