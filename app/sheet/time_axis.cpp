#include "sheet/time_axis.h"

#include <algorithm>
#include <cmath>

namespace lampo {

double TimeAxis::widest() const {
    return std::max(closest, static_cast<double>(length_.frames) / std::max(1, width_));
}

SongFrame TimeAxis::songAt(double x) const {
    return SongFrame{static_cast<std::int64_t>(std::floor(toFrame(x)))};
}

void TimeAxis::fit(FrameCount length, int width) {
    const bool whole = length_ != length || framesPerPixel_ >= widest();
    length_ = length;
    width_ = std::max(1, width);
    if (whole)
        showAll();
    else
        zoomTo(framesPerPixel_, 0);
}

void TimeAxis::showAll() {
    framesPerPixel_ = widest();
    first_ = 0;
}

void TimeAxis::zoomTo(double framesPerPixel, double x) {
    const double held = toFrame(x);
    framesPerPixel_ = std::clamp(framesPerPixel, closest, widest());
    scrollTo(held - x * framesPerPixel_);
}

void TimeAxis::scrollTo(double firstFrame) {
    const double last = static_cast<double>(length_.frames) - width_ * framesPerPixel_;
    first_ = std::clamp(firstFrame, 0.0, std::max(0.0, last));
}

void TimeAxis::reveal(double frame) {
    const double x = toX(frame);
    if (x < width_ * 0.1)
        scrollBy(x - width_ * 0.1);
    else if (x > width_ * 0.9)
        scrollBy(x - width_ * 0.9);
}

void TimeAxis::showRange(double begin, double end) {
    framesPerPixel_ = std::clamp((end - begin) / width_, closest, widest());
    scrollTo(begin);
}

} // namespace lampo
