#pragma once

#include "base/range.h"
#include "seams/curve.h"

#include <array>
#include <optional>
#include <span>
#include <vector>

namespace lampo {

/// What a seam sounds like at one place.
struct SeamFigures {
    float dip = 0;  ///< dB that a window falls under the quieter side where it does most
    float bump = 0; ///< dB that a window rises over the louder side
};

/// The two sides of one seam in one mic and one band, as energies of short bins: enough to tell, without the
/// samples, how loud each bin would be after any crossfade.
class SeamSides {
public:
    /// Of both sides over the same stretch of the result, as if each went on. `bin`: frames.
    SeamSides(std::span<const float> earlier, std::span<const float> later, std::size_t bin);

    /// From one bin to before another.
    struct Bins {
        std::size_t begin; ///< the first
        std::size_t end;   ///< behind the last
    };

    /// How many there are.
    std::size_t bins() const { return earlier_.size() - 1; }
    /// How much both sides are alike over [begin, begin + length) bins: −1 to 1; none where one of them is silent.
    std::optional<float> likeness(std::size_t begin, std::size_t length) const;
    /// What a crossfade over [begin, begin + gains.size()) bins makes of windows of so many bins around it, the
    /// widest window first; `gains` are those in the middle of each bin. Zero where one side is silent.
    std::array<SeamFigures, 2> joined(std::size_t begin, std::span<const FadeGains> gains,
                                      std::array<std::size_t, 2> windows) const;

private:
    SeamFigures figures(std::span<const double> out, std::size_t first, Bins fade, std::size_t window) const;

    // Running sums over the bins: of each side's energy, and of their product.
    std::vector<double> earlier_, later_, product_;
};

} // namespace lampo
