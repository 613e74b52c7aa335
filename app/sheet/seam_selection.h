#pragma once

#include "sheet/chosen.h"
#include "sheet/sheet_state.h"

namespace lampo {

/// Seams come and go with their hits; what was chosen stays chosen as long as its hits are there, wherever it moves
/// between them. A seam that lies between no two hits is found again only where it was.
class SeamSelection {
public:
    using Seams = Chosen<SeamIndex>;

    void remember(const SheetState& state, const Seams& seams);
    Seams findAgain(const SheetState& state) const;

private:
    std::vector<Seam> all_;
    std::optional<Seam> current_;
};

} // namespace lampo
