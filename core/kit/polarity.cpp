#include "kit/polarity.h"

#include "audio/audio_reader.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

constexpr Milliseconds around{4};
constexpr Milliseconds farthestLag{1.5};
constexpr Decibels strong{-8};
constexpr std::size_t maxStrokes = 40;

/// The correlation of largest size among all lags, with its sign.
double strongestCorrelation(std::span<const float> a, std::span<const float> b, std::int64_t maxLag) {
    const auto length = static_cast<std::int64_t>(a.size());
    double strongest = 0;
    for (std::int64_t lag = -maxLag; lag <= maxLag; ++lag) {
        double product = 0, powerA = 0, powerB = 0;
        for (std::int64_t i = std::max<std::int64_t>(0, -lag); i < std::min(length, length - lag); ++i) {
            const double x = a[static_cast<std::size_t>(i)], y = b[static_cast<std::size_t>(i + lag)];
            product += x * y;
            powerA += x * x;
            powerB += y * y;
        }
        const double scale = std::sqrt(powerA * powerB);
        if (scale > 1e-12 && std::abs(product / scale) > std::abs(strongest))
            strongest = product / scale;
    }
    return strongest;
}

Expected<double> likeness(AudioReader& a, AudioReader& b, const MicAnalysis& strokes, SampleRate rate) {
    const FrameCount half = toFrames(around, rate);
    std::vector<float> left(static_cast<std::size_t>(2 * half.frames)), right(left.size());
    double sum = 0;
    std::size_t count = 0;
    for (const Candidate& stroke : strokes.candidates) {
        if (stroke.level < strong || count == maxStrokes)
            continue;
        if (auto read = a.read(stroke.at - half, left); !read)
            return tl::unexpected(read.error());
        if (auto read = b.read(stroke.at - half, right); !read)
            return tl::unexpected(read.error());
        sum += strongestCorrelation(left, right, toFrames(farthestLag, rate).frames);
        ++count;
    }
    return count == 0 ? 0.0 : sum / static_cast<double>(count);
}

} // namespace

Expected<std::vector<PolarityPair>> comparePolarity(const Session& session, const Take& take,
                                                    std::span<const MicAnalysis* const> analyses,
                                                    const Progress& progress) {
    std::vector<PolarityPair> pairs;
    for (std::size_t first = 0; first < session.mics.size(); ++first)
        for (std::size_t second = first + 1; second < session.mics.size(); ++second) {
            const Mic& a = session.mics[first];
            const Mic& b = session.mics[second];
            const bool oneDrum = !a.group.empty() && a.group == b.group && isCloseMic(a.role) && isCloseMic(b.role);
            if (!oneDrum || !analyses[first] || take.files[first].empty() || take.files[second].empty())
                continue;
            if (progress.cancelled())
                return fail(ErrorKind::cancelled, "Comparing mics was stopped");
            auto one = AudioReader::open(take.files[first], session.rate);
            auto other = AudioReader::open(take.files[second], session.rate);
            if (!one || !other)
                return tl::unexpected(one ? other.error() : one.error());
            const auto alike = likeness(*one, *other, *analyses[first], session.rate);
            if (!alike)
                return tl::unexpected(alike.error());
            pairs.push_back({first, second, *alike});
        }
    return pairs;
}

} // namespace lampo
