#pragma once

#include "base/range.h"

namespace lampo {

/// The horizontal axis shared by everything on the sheet: pixels against frames of the song (and of the result,
/// which shares its zero).
class TimeAxis {
public:
    static constexpr double closest = 0.25; ///< frames per pixel

    /// The song's length and the width in pixels; keeps what is shown where it can.
    void fit(FrameCount length, int width);
    void showAll();
    /// Makes `framesPerPixel` hold while the frame under `x` stays there.
    void zoomTo(double framesPerPixel, double x);
    void zoomBy(double factor, double x) { zoomTo(framesPerPixel_ * factor, x); }
    void scrollTo(double firstFrame);
    void scrollBy(double pixels) { scrollTo(first_ + pixels * framesPerPixel_); }
    /// Scrolls as little as needed to have `frame` within the middle four fifths.
    void reveal(double frame);
    void showRange(double begin, double end);

    template <class Axis>
    double toX(Position<Axis> at) const {
        return toX(static_cast<double>(at.frame));
    }
    double toX(double frame) const { return (frame - first_) / framesPerPixel_; }
    double toFrame(double x) const { return first_ + x * framesPerPixel_; }
    /// The frame that begins at `x` or before it.
    SongFrame songAt(double x) const;
    /// All frames of which something is shown.
    Range<SongFrame> shown() const { return {songAt(0), songAt(width_) + FrameCount{1}}; }
    double firstFrame() const { return first_; }
    double framesPerPixel() const { return framesPerPixel_; }
    double lastFrame() const { return toFrame(width_); }
    int width() const { return width_; }
    FrameCount length() const { return length_; }

private:
    double widest() const;

    double first_ = 0;
    double framesPerPixel_ = 1000;
    int width_ = 1;
    FrameCount length_;
};

} // namespace lampo
