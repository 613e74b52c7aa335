#include "session/patch.h"

#include <cmath>

namespace lampo {

double firstNotch(FrameCount shift, SampleRate rate) {
    return 0.5 / std::abs(toSeconds(shift, rate).value);
}

} // namespace lampo
