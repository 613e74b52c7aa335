#pragma once

#include "sheet/chosen.h"
#include "sheet/sheet_state.h"

namespace lampo {

/// Hits come and go with every change; what was chosen stays chosen as long as it is there, found again by where it
/// was played.
class HitSelection {
public:
    using Hits = Chosen<HitIndex>;

    void remember(const SheetState& state, const Hits& hits);
    /// A hit that is to come at this place is chosen when it is there.
    void await(const TakePlace& place, SourceToSong shift);
    Hits findAgain(const SheetState& state) const;

private:
    struct Kept {
        TakePlace place;
        SourceToSong shift;
    };
    std::vector<Kept> all_;
    std::optional<Kept> current_;
};

} // namespace lampo
