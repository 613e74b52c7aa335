#include "stops/offered_grids.h"

#include <algorithm>

namespace lampo {

const std::vector<NoteValue>& offeredGrids() {
    static const std::vector<NoteValue> grids{{1, 4},  {1, 8}, {1, 16}, {1, 32}, {1, 64}, {1, 6},  {1, 12}, {1, 24},
                                              {1, 48}, {3, 8}, {3, 16}, {3, 32}, {1, 5},  {1, 10}, {1, 20}};
    return grids;
}

QStringList offeredGridNames() {
    QStringList names;
    for (const NoteValue grid : offeredGrids())
        names << QString::fromStdString(name(grid));
    return names;
}

int offeredGridIndex(NoteValue grid) {
    const auto& grids = offeredGrids();
    const auto found = std::find(grids.begin(), grids.end(), grid);
    return found == grids.end() ? -1 : static_cast<int>(found - grids.begin());
}

} // namespace lampo
