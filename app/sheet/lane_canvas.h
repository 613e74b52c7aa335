#pragma once

#include <QImage>

#include <algorithm>
#include <cstddef>
#include <span>
#include <vector>

namespace lampo {

/// One row of pixels, the same all the way down: what lies behind the waveforms.
class PixelRow {
public:
    PixelRow(int width, QRgb paper) : pixels_(static_cast<std::size_t>(std::max(0, width)), paper), paper_(paper) {}

    void set(int x, QRgb colour) {
        if (0 <= x && x < static_cast<int>(pixels_.size()))
            pixels_[static_cast<std::size_t>(x)] = colour;
    }
    /// Colours what is still bare paper.
    void tint(int first, int last, QRgb colour) {
        const auto begin = pixels_.begin() + std::clamp(first, 0, static_cast<int>(pixels_.size()));
        const auto end = pixels_.begin() + std::clamp(last + 1, 0, static_cast<int>(pixels_.size()));
        if (begin < end)
            std::replace(begin, end, paper_, colour);
    }
    std::span<const QRgb> pixels() const { return pixels_; }

private:
    std::vector<QRgb> pixels_;
    QRgb paper_;
};

/// A picture's pixels, written directly, inside a rectangle. Threads may draw where no other does.
class LaneCanvas {
public:
    LaneCanvas(QImage& image, QRect clip)
        : first_(reinterpret_cast<QRgb*>(image.bits())),
          stride_(image.bytesPerLine() / static_cast<qsizetype>(sizeof(QRgb))),
          clip_(clip.intersected(image.rect())) {}

    void column(int x, int top, int bottom, QRgb colour) {
        if (x < clip_.left() || x > clip_.right())
            return;
        const int first = std::max(top, clip_.top());
        QRgb* pixel = first_ + static_cast<std::ptrdiff_t>(first) * stride_ + x;
        for (int count = std::min(bottom, clip_.bottom()) - first; count >= 0; --count, pixel += stride_)
            *pixel = colour;
    }
    /// The same pixels in every row of a rectangle.
    void fill(const QRect& rect, const PixelRow& row) {
        const QRect part = rect.intersected(clip_);
        const auto pixels = row.pixels().subspan(static_cast<std::size_t>(std::max(0, part.left())),
                                                 static_cast<std::size_t>(std::max(0, part.width())));
        for (int y = part.top(); y <= part.bottom(); ++y)
            std::copy(pixels.begin(), pixels.end(), first_ + y * stride_ + part.left());
    }
    void fill(const QRect& rect, QRgb colour) {
        const QRect part = rect.intersected(clip_);
        for (int y = part.top(); y <= part.bottom(); ++y)
            std::fill_n(first_ + y * stride_ + part.left(), std::max(0, part.width()), colour);
    }

private:
    QRgb* first_;
    qsizetype stride_; ///< pixels from a row to the next
    QRect clip_;
};

} // namespace lampo
