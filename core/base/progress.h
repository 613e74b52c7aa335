#pragma once

#include <functional>
#include <stop_token>

namespace lampo {

/// Handed to long work. `report` gets a fraction from 0 to 1, possibly from several threads at once; the work
/// looks at `stop` at least every tenth of a second and ends with ErrorKind::cancelled.
struct Progress {
    std::function<void(double)> report; ///< told how far the work is, 0 to 1, from any thread; may be empty
    std::stop_token stop;               ///< asked to stop: the work ends at its next chance

    /// Tells how far the work is, 0 to 1.
    void at(double fraction) const {
        if (report)
            report(fraction);
    }
    /// Whether the work is to end.
    bool cancelled() const { return stop.stop_requested(); }
};

} // namespace lampo
