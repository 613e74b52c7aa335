#pragma once

#include "sheet/sheet_state.h"

namespace lampo {

/// Hits come and go with every change; what was chosen stays chosen as long as it is there, found again by where it
/// was played.
class HitSelection {
public:
    struct Hits {
        std::vector<HitIndex> all; ///< ascending
        std::optional<HitIndex> current;
        bool operator==(const Hits&) const = default;
    };
    /// What a click on a hit chooses: it alone, with Shift all from the current one to it, with Control it as well
    /// or no longer. A plain click on one of several keeps them.
    static Hits clicked(const SheetState& state, HitIndex hit, Qt::KeyboardModifiers keys);

    void remember(const SheetState& state, const Hits& hits);
    /// A hit that is to come at this place is chosen when it is there.
    void await(const TakePlace& place, SourceToSong shift);
    Hits findAgain(const SheetState& state) const;

private:
    struct Chosen {
        TakePlace place;
        SourceToSong shift;
    };
    std::vector<Chosen> all_;
    std::optional<Chosen> current_;
};

} // namespace lampo
