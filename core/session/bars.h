#pragma once

#include "session/session.h"

namespace lampo {

/// Bars put in before bar `before`: empty ones, or the `count` bars just before it once more. All that lies behind
/// moves along: takes, companions, map, sections, ratings and tries.
/// `before` >= 1, `count` >= 1; to repeat, `before` > `count`.
Session withBars(Session session, int before, int count, bool repeat);

/// The same without bars [first, first + count).
Session withoutBars(Session session, int first, int count);

} // namespace lampo
