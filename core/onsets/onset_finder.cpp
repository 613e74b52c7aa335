#include "onsets/onset_finder.h"

#include "onsets/attack_start.h"
#include "onsets/familiar_strokes.h"
#include "onsets/low_rate.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace lampo {
namespace {

// Hop counts below are for hops of 1.33 ms.
constexpr std::size_t sharpHops = 3;   ///< a sharp attack gathers over 4 ms
constexpr std::size_t softHops = 8;    ///< a soft one, of a brush, over 11 ms,
constexpr std::size_t aloneHops = 60;  ///< with nothing sharp within 80 ms: rolls are struck sharply
constexpr std::size_t levelHops = 8;   ///< any is at its loudest within 11 ms
constexpr std::size_t medianHops = 75; ///< the local floor looks 100 ms to both sides
constexpr std::size_t firstHigh = 2;   ///< the bands above 700 Hz: a beater's click, not a drum's body
constexpr float leastHighRise = 6;     ///< dB, in their weighted mean; from the kits in bench/ears.cpp
constexpr std::size_t highApart = 30;  ///< nothing sharp within 40 ms

float decibelsOfPower(float power) {
    return 10.0F * std::log10(power + 1e-20F);
}

/// `lowRate`: fed as well, if there is one.
Expected<std::vector<BandEnergies>> measure(AudioReader& reader, BandMeter& meter, LowRateSound* lowRate,
                                            const Progress& progress) {
    const std::int64_t length = reader.info().length.frames;
    const std::size_t block = meter.hop() * 512;
    std::vector<float> buffer(block);
    std::vector<BandEnergies> energies;
    energies.reserve(static_cast<std::size_t>(length) / meter.hop() + block);
    for (std::int64_t at = 0; at < length; at += static_cast<std::int64_t>(block)) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "Listening for hits was stopped");
        if (auto read = reader.read(SourceFrame{at}, buffer); !read)
            return tl::unexpected(read.error());
        meter.add(buffer, energies);
        if (lowRate)
            lowRate->add(buffer);
        progress.at(0.9 * static_cast<double>(at) / static_cast<double>(length));
    }
    energies.resize(std::min(energies.size(), static_cast<std::size_t>(length) / meter.hop() + 1));
    return energies;
}

std::vector<float> weighted(const std::vector<BandEnergies>& energies, const BandEnergies& weights) {
    std::vector<float> power(energies.size());
    std::transform(energies.begin(), energies.end(), power.begin(),
                   [&](const BandEnergies& hop) { return weightedPower(hop, weights); });
    return power;
}

/// The median of the peaks within 10 dB of the third loudest: one crash of sticks does not set the scale.
float strongPower(const std::vector<float>& power) {
    constexpr std::size_t apart = 75;
    std::vector<float> peaks;
    for (std::size_t h = 0; h < power.size(); h += apart)
        peaks.push_back(
            *std::max_element(power.begin() + static_cast<std::ptrdiff_t>(h),
                              power.begin() + static_cast<std::ptrdiff_t>(std::min(power.size(), h + apart))));
    std::sort(peaks.rbegin(), peaks.rend());
    if (peaks.empty())
        return 0;
    const float limit = peaks[std::min<std::size_t>(2, peaks.size() - 1)] * 0.1F;
    const auto loud = std::find_if(peaks.begin(), peaks.end(), [&](float p) { return p < limit; }) - peaks.begin();
    return peaks[static_cast<std::size_t>(loud) / 2];
}

/// Follows a band's energy up at once and down slowly: a tone's energy swings within each of its cycles, and noise
/// flickers, but neither is an attack. dB per hop, faster than any drum rings off and slower than they swing.
constexpr BandEnergies holdDecay{0.35F, 0.5F, 0.7F, 0.7F};

/// How far the sound rose, hop by hop: dB, the mean over the bands, weighted.
struct Rises {
    std::vector<float> sharp; ///< within sharpHops
    std::vector<float> soft;  ///< within softHops
    std::vector<float> high;  ///< within sharpHops, of the high bands alone
};

/// What lies below the floor of its band counts as silence.
Rises risesOf(const std::vector<BandEnergies>& energies, const OnsetSettings& settings, float strong) {
    const std::vector<float> none(energies.size());
    Rises rises{none, none, none};
    const auto firstOfHigh = settings.weights.begin() + firstHigh;
    const float total = std::accumulate(settings.weights.begin(), settings.weights.end(), 0.0F);
    const float high = std::accumulate(firstOfHigh, settings.weights.end(), 0.0F);
    const float floorPower = strong * static_cast<float>(std::pow(10.0, settings.floor.value / 10.0)) + 1e-12F;
    std::vector<float> level(energies.size());
    for (std::size_t band = 0; band < bandCount; ++band) {
        const float weight = settings.weights[band];
        const float power = weight * weight;
        const float decay = std::pow(10.0F, -0.1F * holdDecay[band]);
        float held = 0;
        for (std::size_t h = 0; h < energies.size(); ++h) {
            held = std::max(held * decay, power * energies[h][band]);
            level[h] = std::log2(held + floorPower);
        }
        const auto addRise = [&](std::vector<float>& rise, std::size_t hops, float all) {
            const float share = 3.0103F * weight / all; // dB per factor of two
            for (std::size_t h = hops; h < energies.size(); ++h)
                rise[h] += share * std::max(0.0F, level[h] - level[h - hops]);
        };
        addRise(rises.sharp, sharpHops, total);
        addRise(rises.soft, softHops, total);
        if (band >= firstHigh)
            addRise(rises.high, sharpHops, high);
    }
    return rises;
}

/// The median over medianHops to both sides, taken every 16 hops.
std::vector<float> localMedian(const std::vector<float>& values) {
    constexpr std::size_t stride = 16;
    std::vector<float> medians(values.size());
    std::vector<float> window;
    for (std::size_t h = 0; h < values.size(); h += stride) {
        const std::size_t first = h > medianHops ? h - medianHops : 0;
        const std::size_t last = std::min(values.size(), h + medianHops);
        window.assign(values.begin() + static_cast<std::ptrdiff_t>(first),
                      values.begin() + static_cast<std::ptrdiff_t>(last));
        const auto middle = window.begin() + static_cast<std::ptrdiff_t>(window.size() / 2);
        std::nth_element(window.begin(), middle, window.end());
        std::fill_n(medians.begin() + static_cast<std::ptrdiff_t>(h), std::min(stride, values.size() - h), *middle);
    }
    return medians;
}

float leastRise(const OnsetSettings& settings) {
    return std::inner_product(settings.weights.begin(), settings.weights.end(), settings.leastRise.begin(), 0.0F) /
           std::accumulate(settings.weights.begin(), settings.weights.end(), 0.0F);
}

struct Peak {
    std::size_t hop;
    float rise;
    std::size_t over; ///< hops in which it rose
};

/// Of rises nearer than `apart` the larger is kept.
std::vector<Peak> pickPeaks(const std::vector<float>& rise, std::size_t over, float least, std::size_t apart) {
    const std::vector<float> median = localMedian(rise);
    std::vector<Peak> kept;
    for (std::size_t h = 1; h + 1 < rise.size(); ++h) {
        const Peak peak{h, rise[h] - median[h], over};
        if (peak.rise <= least || rise[h] < rise[h - 1] || rise[h] <= rise[h + 1])
            continue;
        if (kept.empty() || peak.hop - kept.back().hop >= apart)
            kept.push_back(peak);
        else if (peak.rise > kept.back().rise)
            kept.back() = peak;
    }
    return kept;
}

/// As for a kick or a tom, whose bodies swell by themselves as slowly as brushes strike.
bool listensLow(const BandEnergies& weights) {
    return weights.front() > 0.25F * *std::max_element(weights.begin(), weights.end());
}

/// The peaks, and those of the further ones that lie so many hops before the next and behind the last of them.
std::vector<Peak> withAlone(const std::vector<Peak>& peaks, std::vector<Peak> further, std::size_t before,
                            std::size_t behind) {
    const auto earlier = [](const Peak& a, const Peak& b) { return a.hop < b.hop; };
    std::erase_if(further, [&](const Peak& peak) {
        const auto next = std::lower_bound(peaks.begin(), peaks.end(), peak, earlier);
        return (next != peaks.end() && next->hop - peak.hop < before) ||
               (next != peaks.begin() && peak.hop - std::prev(next)->hop < behind);
    });
    std::vector<Peak> all;
    std::merge(peaks.begin(), peaks.end(), further.begin(), further.end(), std::back_inserter(all), earlier);
    return all;
}

/// Sharp attacks. Where low drums are listened for also those that only the high bands show, since such a drum's
/// ring hides its next stroke below; elsewhere soft ones that stand alone.
std::vector<Peak> peaksOf(const Rises& rises, const OnsetSettings& settings, std::size_t apart) {
    const float least = leastRise(settings);
    const std::vector<Peak> peaks = pickPeaks(rises.sharp, sharpHops, least, apart);
    if (listensLow(settings.weights))
        return withAlone(peaks, pickPeaks(rises.high, sharpHops, leastHighRise, apart), highApart, highApart);
    return withAlone(peaks, pickPeaks(rises.soft, softHops, least, apart), aloneHops, aloneHops + softHops);
}

class AttackLocator {
public:
    AttackLocator(AudioReader& reader, std::size_t hop) : reader_(reader), hop_(hop) {}

    /// Looks from well before the sound rose (over `over` hops, up to `hop`) to its loudest sample shortly behind.
    Expected<SourceFrame> locate(std::size_t hop, std::size_t over) {
        const auto first = static_cast<std::int64_t>(hop) - static_cast<std::int64_t>(over + quiet);
        const SourceFrame begin{first * static_cast<std::int64_t>(hop_)};
        buffer_.resize(hop_ * (quiet + over + after));
        if (auto read = reader_.read(begin, buffer_); !read)
            return tl::unexpected(read.error());
        const auto loudest =
            std::max_element(buffer_.begin() + static_cast<std::ptrdiff_t>(quiet * hop_), buffer_.end(),
                             [](float a, float b) { return std::abs(a) < std::abs(b); });
        const auto attack = std::span(buffer_).first(static_cast<std::size_t>(loudest - buffer_.begin()) + 1);
        const std::size_t start = attackStart(attack, (quiet - earliest) * hop_, hop_ / 4);
        return SourceFrame{std::max<std::int64_t>(0, begin.frame + static_cast<std::int64_t>(start))};
    }

private:
    static constexpr std::size_t quiet = 11;   ///< hops before the rise that are looked at
    static constexpr std::size_t earliest = 2; ///< hops before it that the attack may begin
    static constexpr std::size_t after = 3;

    AudioReader& reader_;
    std::size_t hop_;
    std::vector<float> buffer_;
};

BandEnergies loudest(const std::vector<BandEnergies>& energies, std::size_t first, std::size_t last) {
    BandEnergies most{};
    for (std::size_t h = first; h < std::min(last, energies.size()); ++h)
        for (std::size_t band = 0; band < bandCount; ++band)
            most[band] = std::max(most[band], energies[h][band]);
    return most;
}

/// What rings on swings by this much; only what rises above it was added by an attack.
constexpr float swing = 1.4F;

struct Rise {
    BandEnergies added{}, before{};
};

/// What the attack added to what was sounding, band by band: the ring of a loud stroke does not lend its level to a
/// soft one, nor a swinging tone its own to a rustle above it.
Rise riseAt(const std::vector<BandEnergies>& energies, const Peak& peak) {
    const std::size_t start = peak.hop - std::min(peak.hop, peak.over);
    const BandEnergies before = loudest(energies, start - std::min(start, levelHops), start);
    const BandEnergies after = loudest(energies, start, start + levelHops + peak.over);
    Rise rise{{}, before};
    for (std::size_t band = 0; band < bandCount; ++band)
        rise.added[band] = std::max(0.0F, after[band] - swing * before[band]);
    return rise;
}

/// A cymbal's wash flickers as slowly as a soft stroke swells; the stroke stands out in some band.
bool standsOut(const Rise& rise) {
    constexpr float factor = 4; // of power
    for (std::size_t band = 0; band < bandCount; ++band)
        if (rise.added[band] > factor * rise.before[band])
            return true;
    return false;
}

/// What rose by so much, against the strong hits.
Decibels levelOf(const BandEnergies& added, const OnsetSettings& settings, Decibels strong) {
    return {decibelsOfPower(weightedPower(added, settings.weights)) - static_cast<float>(strong.value)};
}

/// Those that hardly rise, but sound like what was found.
void addFamiliar(MicAnalysis& analysis, const LowRateSound& sound, SampleRate rate,
                 const std::vector<BandEnergies>& energies, const OnsetSettings& settings) {
    const std::size_t hop = hopOf(rate);
    const auto heard = std::ssize(analysis.candidates);
    for (const auto& [at, like, added] : familiarStrokes(sound, rate, analysis.candidates)) {
        const Decibels level = levelOf(added, settings, analysis.strong);
        const auto here = static_cast<std::size_t>(at.frame) / hop;
        if (level >= settings.floor)
            analysis.candidates.push_back(
                {at, level, {}, added, loudest(energies, here - std::min(here, levelHops), here), like});
    }
    std::inplace_merge(analysis.candidates.begin(), analysis.candidates.begin() + heard, analysis.candidates.end(),
                       [](const Candidate& a, const Candidate& b) { return a.at < b.at; });
}

Expected<void> keepSounds(AudioReader& reader, MicAnalysis& analysis) {
    AttackSounds& sounds = analysis.sounds = AttackSounds(reader.info().rate);
    std::vector<float> frames(sounds.framesWanted());
    const auto lead = static_cast<std::int64_t>(sounds.lead() * sounds.factor() + sounds.margin());
    for (const Candidate& candidate : analysis.candidates) {
        if (auto read = reader.read(candidate.at - FrameCount{lead}, frames); !read)
            return tl::unexpected(read.error());
        sounds.add(frames);
    }
    return {};
}

} // namespace

Expected<MicAnalysis> findOnsets(AudioReader& reader, const OnsetSettings& settings, const Progress& progress) {
    BandMeter meter(reader.info().rate);
    const bool low = listensLow(settings.weights);
    LowRateSound sound(reader.info().rate);
    const auto energies = measure(reader, meter, low ? nullptr : &sound, progress);
    if (!energies)
        return tl::unexpected(energies.error());
    const auto power = weighted(*energies, settings.weights);
    const float strong = strongPower(power);
    MicAnalysis analysis;
    if (strong <= 1e-10F) // below −100 dBFS there is nothing but the recorder's own noise
        return analysis;
    analysis.strong = {decibelsOfPower(strong)};

    const Rises rises = risesOf(*energies, settings, strong);
    const auto hopTime = 1000.0 * static_cast<double>(meter.hop()) / reader.info().rate.hz;
    const auto apart = static_cast<std::size_t>(std::ceil(settings.least.value / hopTime));
    AttackLocator locator(reader, meter.hop());
    for (const Peak& peak : peaksOf(rises, settings, apart)) {
        const auto at = locator.locate(peak.hop, peak.over);
        if (!at)
            return tl::unexpected(at.error());
        if (!analysis.candidates.empty() && *at <= analysis.candidates.back().at)
            continue;
        const Rise added = riseAt(*energies, peak);
        if (peak.over == softHops && !standsOut(added))
            continue;
        analysis.candidates.push_back(
            {*at, levelOf(added.added, settings, analysis.strong), {peak.rise}, added.added, added.before});
    }
    if (!low)
        addFamiliar(analysis, sound, reader.info().rate, *energies, settings);
    if (settings.keepsSounds)
        if (auto kept = keepSounds(reader, analysis); !kept)
            return tl::unexpected(kept.error());
    progress.at(1.0);
    return analysis;
}

Expected<SourceFrame> attackNear(AudioReader& reader, SourceFrame at, Milliseconds reach) {
    const SampleRate rate = reader.info().rate;
    BandMeter meter(rate);
    const auto hop = static_cast<std::int64_t>(meter.hop());
    const std::int64_t hops = toFrames(reach, rate).frames / hop + 1;
    const std::int64_t middle = at.frame / hop;
    const std::int64_t first = std::max<std::int64_t>(0, middle - hops - 20); // filters and rise need a run-up
    if (middle + hops <= first || first * hop >= reader.info().length.frames)
        return at; // there is no sound
    std::vector<float> sound(static_cast<std::size_t>((middle + hops - first) * hop));
    if (auto read = reader.read(SourceFrame{first * hop}, sound); !read)
        return tl::unexpected(read.error());
    std::vector<BandEnergies> energies;
    meter.add(sound, energies);
    const OnsetSettings settings;
    const auto power = weighted(energies, settings.weights);
    const auto rise = risesOf(energies, settings, *std::max_element(power.begin(), power.end())).sharp;
    const auto begin = rise.begin() + std::max<std::int64_t>(0, middle - hops - first);
    const auto steepest = std::max_element(begin, rise.end());
    if (steepest == rise.end() || *steepest < settings.leastRise.back())
        return at;
    return AttackLocator(reader, meter.hop())
        .locate(static_cast<std::size_t>(first + (steepest - rise.begin())), sharpHops);
}

} // namespace lampo
