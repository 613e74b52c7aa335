#include "proof/whole_mics.h"

#include "base/parallel.h"
#include "proof/sound_figures.h"
#include "render/spectra.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace lampo {
namespace {

constexpr std::size_t hop = 1024;   ///< frames by which levels are compared
constexpr std::size_t samples = 48; ///< stretches by which a whole mic is judged
constexpr std::int64_t sampleLength = 1 << 14;

/// What was done to a whole mic; nothing, where nothing was done in a quarter of it: then it was done to a part.
template <class T>
T doneToAll(const std::vector<T>& values, T nothing, auto&& isNothing) {
    const auto untouched = std::count_if(values.begin(), values.end(), isNothing);
    return 4 * untouched >= std::ssize(values) ? nothing : medianOf(values, nothing);
}

/// By how much `heard` lies later, within a tenth of a second; none where they are not alike.
std::optional<std::int64_t> lagOf(std::span<const float> expected, std::span<const float> heard, SampleRate rate) {
    std::size_t size = 1;
    while (size < 2 * expected.size())
        size *= 2;
    Spectra spectra(size);
    const auto transformed = [&](std::span<const float> sound) {
        std::fill(std::copy(sound.begin(), sound.end(), spectra.block().begin()), spectra.block().end(), 0.0F);
        spectra.forward();
        return std::vector<std::complex<float>>(spectra.bins().begin(), spectra.bins().end());
    };
    const auto a = transformed(heard), b = transformed(expected);
    for (std::size_t i = 0; i < a.size(); ++i)
        spectra.bins()[i] = a[i] * std::conj(b[i]);
    spectra.back();
    const std::int64_t reach = std::min<std::int64_t>(rate.hz / 10, std::ssize(expected) / 2);
    std::int64_t best = 0;
    float most = 0;
    for (std::int64_t lag = -reach; lag <= reach; ++lag) {
        const float like = std::abs(
            spectra.block()[static_cast<std::size_t>(lag < 0 ? lag + static_cast<std::int64_t>(size) : lag)]);
        if (like > most) {
            most = like;
            best = lag;
        }
    }
    const double likeness = static_cast<double>(most) / static_cast<double>(size) /
                            std::sqrt(std::max(energyOf(expected) * energyOf(heard), 1e-20));
    return likeness > 0.5 ? std::optional(best) : std::nullopt;
}

/// Hears whole mics by stretches all over the song.
class WholeMics {
public:
    explicit WholeMics(const Session& session)
        : rate_(session.rate), length_(session.length().frames), whole_(session.mics.size()) {}

    Expected<std::vector<WholeMic>> judge(KitSound& expected, KitSound& heard) {
        const std::size_t parts = length_ <= sampleLength ? 1 : samples;
        for (std::size_t i = 0; i < parts; ++i) {
            const std::int64_t at = std::max<std::int64_t>(0, length_ - sampleLength) *
                                    static_cast<std::int64_t>(i) / static_cast<std::int64_t>(samples - 1);
            auto x = stretchOf(expected, whole_.size(), {at}, sampleLength);
            auto y = stretchOf(heard, whole_.size(), {at}, sampleLength);
            if (!x || !y)
                return tl::unexpected((x ? y : x).error());
            wanted_.push_back(std::move(*x));
            got_.push_back(std::move(*y));
        }
        forEachIndex(whole_.size(), [&](std::size_t mic) { judgeMic(mic); });
        return std::move(whole_);
    }

private:
    void judgeMic(std::size_t m) {
        WholeMic& mic = whole_[m];
        constexpr double sounding = sampleLength * 1e-9; // −90 dBFS
        std::vector<std::int64_t> lags;
        for (std::size_t i = 0; i < wanted_.size(); ++i) {
            const auto &x = wanted_[i][m], &y = got_[i][m];
            mic.expectedSounds = mic.expectedSounds || energyOf(x) > sounding;
            mic.sounds = mic.sounds || energyOf(y) > sounding;
            if (energyOf(x) > sounding && energyOf(y) > sounding)
                if (const auto lag = lagOf(x, y, rate_))
                    lags.push_back(*lag);
        }
        mic.lag = doneToAll(lags, std::int64_t{0}, [](std::int64_t lag) { return lag == 0; });
        mic.alike = !lags.empty();
        std::vector<double> gains, rests, shares;
        inHops(m, mic.lag, [&](std::span<const float> x, std::span<const float> y) {
            constexpr double loud = 1e-8; // −80 dBFS
            if (energyOf(x) > static_cast<double>(x.size()) * loud) {
                double xy = 0;
                for (std::size_t i = 0; i < x.size(); ++i)
                    xy += double{x[i]} * y[i];
                gains.push_back(xy / energyOf(x));
            }
        });
        mic.gain = doneToAll(gains, 1.0, [](double gain) { return std::abs(gain - 1) < 0.003; });
        if (std::abs(mic.gain) < 1e-3)
            mic.gain = 1;
        inHops(m, mic.lag, [&](std::span<const float> x, std::span<const float> y) {
            double rest = 0;
            for (std::size_t i = 0; i < x.size(); ++i)
                rest += std::pow(double{y[i]} / mic.gain - x[i], 2);
            rests.push_back(rest / static_cast<double>(x.size()));
            shares.push_back(rest / std::max(energyOf(x), 1e-12));
        });
        mic.usual = quartileOf(rests, 1, 0.0);
        mic.usualShare = quartileOf(shares, 1, 0.0);
    }
    void inHops(std::size_t m, std::int64_t lag, auto&& look) const {
        for (std::size_t i = 0; i < wanted_.size(); ++i) {
            const auto count = static_cast<std::size_t>(std::max<std::int64_t>(0, sampleLength - std::abs(lag)));
            const auto x = std::span(wanted_[i][m])
                               .subspan(static_cast<std::size_t>(std::max<std::int64_t>(0, -lag)), count),
                       y = std::span(got_[i][m])
                               .subspan(static_cast<std::size_t>(std::max<std::int64_t>(0, lag)), count);
            for (std::size_t h = 0; h + hop <= count; h += hop)
                look(x.subspan(h, hop), y.subspan(h, hop));
        }
    }

    SampleRate rate_;
    std::int64_t length_; ///< frames
    std::vector<WholeMic> whole_;
    std::vector<std::vector<std::vector<float>>> wanted_, got_; ///< stretches x mics x frames
};

/// See linedUp().
class LinedUpSound : public KitSound {
public:
    LinedUpSound(std::unique_ptr<KitSound> heard, const std::vector<WholeMic>& whole)
        : heard_(std::move(heard)), whole_(whole) {}
    Expected<void> read(ResultFrame at, std::size_t frames, std::span<const std::span<float>> out) override {
        for (MicIndex mic; mic < out.size(); ++mic)
            if (auto read = readMic(mic, at, out[mic].first(frames)); !read)
                return read;
        return {};
    }
    Expected<void> readMic(MicIndex mic, ResultFrame at, std::span<float> out) override {
        return heard_->readMic(mic, at + FrameCount{whole_[mic].lag}, out).map([&] {
            const auto factor = static_cast<float>(1 / whole_[mic].gain);
            for (float& sample : out)
                sample *= factor;
        });
    }

private:
    std::unique_ptr<KitSound> heard_;
    const std::vector<WholeMic>& whole_;
};

} // namespace

Expected<std::vector<WholeMic>> wholeMicsOf(const Session& session, const KitSoundMaker& expected,
                                            const KitSoundMaker& heard) {
    auto wanted = expected(std::make_shared<KitReader>(session));
    if (!wanted)
        return tl::unexpected(wanted.error());
    auto got = heard(std::make_shared<KitReader>(session));
    if (!got)
        return tl::unexpected(got.error());
    return WholeMics(session).judge(**wanted, **got);
}

KitSoundMaker linedUp(const KitSoundMaker& heard, const std::vector<WholeMic>& whole) {
    return [&heard, &whole](const std::shared_ptr<KitReader>& kit) {
        return heard(kit).map([&](std::unique_ptr<KitSound> sound) -> std::unique_ptr<KitSound> {
            return std::make_unique<LinedUpSound>(std::move(sound), whole);
        });
    };
}

} // namespace lampo
