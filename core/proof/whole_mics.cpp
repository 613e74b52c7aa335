#include "proof/whole_mics.h"

#include "base/parallel.h"
#include "proof/sound_figures.h"
#include "signal/sliding_products.h"

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
    const std::int64_t reach = std::min<std::int64_t>(rate.hz / 10, std::ssize(expected) / 2);
    std::vector<float> padded(static_cast<std::size_t>(reach), 0.0F);
    padded.insert(padded.end(), heard.begin(), heard.end());
    padded.resize(padded.size() + static_cast<std::size_t>(reach));
    const std::vector<float> products = slidingProducts(padded, expected);
    const auto most = std::max_element(products.begin(), products.end(),
                                       [](float a, float b) { return std::abs(a) < std::abs(b); });
    const double likeness =
        static_cast<double>(std::abs(*most)) / std::sqrt(std::max(energyOf(expected) * energyOf(heard), 1e-20));
    return likeness > 0.5 ? std::optional<std::int64_t>(most - products.begin() - reach) : std::nullopt;
}

/// Hears whole mics by stretches all over the song.
class WholeMics {
public:
    explicit WholeMics(const Session& session)
        : rate_(session.rate), length_(session.length().frames), whole_(session.mics.size()) {}

    /// Three times over the same stretches, of which one is held: where mics lie, how loud they are, what differs.
    Expected<std::vector<WholeMic>> judge(KitSound& expected, KitSound& heard) {
        figures_.resize(whole_.size());
        const auto look = [&](void (WholeMics::*part)(std::size_t, const Sound&, const Sound&)) {
            return eachStretch(expected, heard, part);
        };
        return look(&WholeMics::lookForLag)
            .map([&] { settleLags(); })
            .and_then([&] { return look(&WholeMics::lookForGain); })
            .map([&] { settleGains(); })
            .and_then([&] { return look(&WholeMics::lookForRest); })
            .map([&] {
                for (std::size_t m = 0; m < whole_.size(); ++m) {
                    whole_[m].usual = quartileOf(figures_[m].rests, 1, 0.0);
                    whole_[m].usualShare = quartileOf(figures_[m].shares, 1, 0.0);
                }
                return std::move(whole_);
            });
    }

private:
    using Sound = std::vector<float>;
    /// Of one mic, from all stretches.
    struct Figures {
        std::vector<std::int64_t> lags;
        std::vector<double> gains, rests, shares;
    };

    Expected<void> eachStretch(KitSound& expected, KitSound& heard,
                               void (WholeMics::*part)(std::size_t, const Sound&, const Sound&)) {
        const std::size_t parts = length_ <= sampleLength ? 1 : samples;
        for (std::size_t i = 0; i < parts; ++i) {
            const std::int64_t at = std::max<std::int64_t>(0, length_ - sampleLength) *
                                    static_cast<std::int64_t>(i) / static_cast<std::int64_t>(samples - 1);
            const auto x = stretchOf(expected, whole_.size(), ResultFrame{at}, sampleLength);
            const auto y = stretchOf(heard, whole_.size(), ResultFrame{at}, sampleLength);
            if (!x || !y)
                return tl::unexpected((x ? y : x).error());
            forEachIndex(whole_.size(), [&](std::size_t mic) { (this->*part)(mic, (*x)[mic], (*y)[mic]); });
        }
        return {};
    }

    void lookForLag(std::size_t m, const Sound& x, const Sound& y) {
        constexpr double sounding = sampleLength * 1e-9; // −90 dBFS
        WholeMic& mic = whole_[m];
        const bool wanted = energyOf(x) > sounding, got = energyOf(y) > sounding;
        mic.expectedSounds = mic.expectedSounds || wanted;
        mic.sounds = mic.sounds || got;
        if (wanted && got)
            if (const auto lag = lagOf(x, y, rate_))
                figures_[m].lags.push_back(*lag);
    }
    void settleLags() {
        for (std::size_t m = 0; m < whole_.size(); ++m) {
            whole_[m].lag = doneToAll(figures_[m].lags, std::int64_t{0}, [](std::int64_t lag) { return lag == 0; });
            whole_[m].alike = !figures_[m].lags.empty();
        }
    }

    void lookForGain(std::size_t m, const Sound& expected, const Sound& heard) {
        inHops(m, expected, heard, [&](std::span<const float> x, std::span<const float> y) {
            constexpr double loud = 1e-8; // −80 dBFS
            if (energyOf(x) <= static_cast<double>(x.size()) * loud)
                return;
            double xy = 0;
            for (std::size_t i = 0; i < x.size(); ++i)
                xy += double{x[i]} * y[i];
            figures_[m].gains.push_back(xy / energyOf(x));
        });
    }
    void settleGains() {
        for (std::size_t m = 0; m < whole_.size(); ++m) {
            const double gain =
                doneToAll(figures_[m].gains, 1.0, [](double one) { return std::abs(one - 1) < 0.003; });
            whole_[m].gain = std::abs(gain) < 1e-3 ? 1 : gain;
        }
    }

    void lookForRest(std::size_t m, const Sound& expected, const Sound& heard) {
        inHops(m, expected, heard, [&](std::span<const float> x, std::span<const float> y) {
            double rest = 0;
            for (std::size_t i = 0; i < x.size(); ++i)
                rest += std::pow(double{y[i]} / whole_[m].gain - x[i], 2);
            figures_[m].rests.push_back(rest / static_cast<double>(x.size()));
            figures_[m].shares.push_back(rest / std::max(energyOf(x), 1e-12));
        });
    }

    /// What both have in common where one lies later.
    void inHops(std::size_t m, const Sound& expected, const Sound& heard, auto&& look) const {
        const std::int64_t lag = whole_[m].lag;
        const auto count = static_cast<std::size_t>(std::max<std::int64_t>(0, sampleLength - std::abs(lag)));
        const auto x = std::span(expected).subspan(static_cast<std::size_t>(std::max<std::int64_t>(0, -lag)),
                                                   count),
                   y = std::span(heard).subspan(static_cast<std::size_t>(std::max<std::int64_t>(0, lag)), count);
        for (std::size_t h = 0; h + hop <= count; h += hop)
            look(x.subspan(h, hop), y.subspan(h, hop));
    }

    SampleRate rate_;
    std::int64_t length_; ///< frames
    std::vector<WholeMic> whole_;
    std::vector<Figures> figures_; ///< one for each mic
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
