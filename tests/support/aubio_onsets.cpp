#include "support/aubio_onsets.h"

#include <aubio/aubio.h>

#include <algorithm>

namespace lampo::test {

std::vector<std::int64_t> aubioOnsets(const std::vector<float>& samples, int rate, double threshold) {
    constexpr unsigned hop = 128;
    aubio_onset_t* onset = new_aubio_onset("hfc", 512, hop, static_cast<unsigned>(rate));
    if (threshold > 0)
        aubio_onset_set_threshold(onset, static_cast<float>(threshold));
    aubio_onset_set_minioi_ms(onset, 30);
    fvec_t* in = new_fvec(hop);
    fvec_t* out = new_fvec(1);
    std::vector<std::int64_t> found;
    for (std::size_t at = 0; at + hop <= samples.size(); at += hop) {
        std::copy_n(samples.begin() + static_cast<std::ptrdiff_t>(at), hop, in->data);
        aubio_onset_do(onset, in, out);
        if (out->data[0] != 0)
            found.push_back(aubio_onset_get_last(onset));
    }
    del_aubio_onset(onset);
    del_fvec(in);
    del_fvec(out);
    return found;
}

} // namespace lampo::test
