#include "signal/spectra.h"

#include <fftw3.h>

#include <map>
#include <mutex>

namespace lampo {
namespace {

/// Without instructions that only some machines have: they add up in another order.
constexpr unsigned flags = FFTW_ESTIMATE | FFTW_NO_SIMD;

fftwf_complex* asFftw(std::complex<float>* bins) {
    return reinterpret_cast<fftwf_complex*>(bins); // laid out alike, as FFTW's manual promises
}

} // namespace

struct Spectra::Plans {
    fftwf_plan forward = nullptr;
    fftwf_plan back = nullptr;
};

/// Made once for each size, by one thread at a time; carried out by any. They are kept.
const Spectra::Plans& Spectra::plansOf(std::size_t size) {
    static std::mutex guard;
    static std::map<std::size_t, Plans> known;
    const std::scoped_lock lock(guard);
    Plans& plans = known[size];
    if (!plans.forward) {
        const std::unique_ptr<float[], Free> block(fftwf_alloc_real(size));
        const std::unique_ptr<fftwf_complex[], Free> bins(fftwf_alloc_complex(size / 2 + 1));
        plans.forward = fftwf_plan_dft_r2c_1d(static_cast<int>(size), block.get(), bins.get(), flags);
        plans.back = fftwf_plan_dft_c2r_1d(static_cast<int>(size), bins.get(), block.get(), flags);
    }
    return plans;
}

void Spectra::Free::operator()(void* memory) const {
    fftwf_free(memory);
}

Spectra::Spectra(std::size_t size)
    : size_(size), plans_(plansOf(size)), block_(fftwf_alloc_real(size)),
      bins_(reinterpret_cast<std::complex<float>*>(fftwf_alloc_complex(size / 2 + 1))) {}

void Spectra::forward() {
    fftwf_execute_dft_r2c(plans_.forward, block_.get(), asFftw(bins_.get()));
}

void Spectra::back() {
    fftwf_execute_dft_c2r(plans_.back, asFftw(bins_.get()), block_.get());
}

} // namespace lampo
