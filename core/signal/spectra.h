#pragma once

#include <complex>
#include <cstddef>
#include <memory>
#include <span>

namespace lampo {

/// The real discrete Fourier transform of one length, there and back, the same on every machine. Each by one thread
/// at a time.
class Spectra {
public:
    /// `size`: even.
    explicit Spectra(std::size_t size);

    /// To be set before forward(), and to be read after back(): then `size` times as large.
    std::span<float> block() { return {block_.get(), size_}; }
    /// size / 2 + 1, to be read after forward(), and to be set before back(), which leaves nothing of them.
    std::span<std::complex<float>> bins() { return {bins_.get(), size_ / 2 + 1}; }
    /// From the block to its bins.
    void forward();
    /// From the bins to their block.
    void back();

private:
    struct Plans;
    static const Plans& plansOf(std::size_t size);
    struct Free {
        void operator()(void* memory) const;
    };

    std::size_t size_;
    const Plans& plans_;
    std::unique_ptr<float[], Free> block_;
    std::unique_ptr<std::complex<float>[], Free> bins_;
};

} // namespace lampo
