#pragma once

#include <functional>

namespace lampo {

/// Ends the application in order when it is interrupted, terminated or loses its terminal: first `before`, on the
/// window's thread, then the event loop, with 128 and the signal's number as shells have it. blockQuitSignals()
/// comes before any thread is made.
void blockQuitSignals();
void quitOnSignals(std::function<void()> before);

} // namespace lampo
