#pragma once

#include "base/indices.h"
#include "base/range.h"
#include "seams/stretch.h"
#include "session/settings.h"

#include <compare>
#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <unordered_map>
#include <vector>

namespace lampo {

/// By what an answer is kept: the content of the takes and all else that decides a seam's place, hashed (XXH3).
struct SeamKey {
    std::uint64_t high = 0; ///< half of the hash
    std::uint64_t low = 0;  ///< the other
    auto operator<=>(const SeamKey&) const = default;
};

/// Where would this seam sound best? Everything that decides it but the sound itself.
struct SeamQuestion {
    TakeIndex earlier;                    ///< take of the slice that ends
    TakeIndex later;                      ///< and of the one that begins
    SourceToResult from;                  ///< how far the slice that ends is moved
    SourceToResult to;                    ///< and the one that begins
    std::vector<Range<ResultFrame>> free; ///< in one of them it lies as a whole; in order, never empty
    Range<ResultFrame> ruled;             ///< where the rule puts it
    FrameCount shortest;                  ///< of its fade
    FrameCount longest;                   ///< and no longer than this
    FadeCurve curve = FadeCurve::matched; ///< by which its sides fade
    std::optional<Stretch> stretch{};     ///< of the slice that ends, if that is a lengthened tail
    SeamKey key{};                        ///< the same for the same seam anywhere in the result
    bool operator==(const SeamQuestion&) const = default;

    /// Whether a seam may lie there: not too short, not too long, whole in one of the free stretches.
    bool allows(Range<ResultFrame> place) const;
};

/// What the search found, seen from where the rule would put the seam.
struct SeamAnswer {
    FrameCount later;   ///< how much later than by the rule it begins
    FrameCount length;  ///< of its fade
    float likeness = 0; ///< by which the two sides fade, −0.5 to 1: see matchedGains()
    float dip = 0;      ///< dB that 8 ms of some mic fall under the quieter side there
    float ruledDip = 0; ///< dB, the same where the rule would put it
    float ring = 0;     ///< dB that the highs of the overheads leave what leads from one side to the other
    bool operator==(const SeamAnswer&) const = default;
};

/// All answers so far. A value: copies share what they hold.
class SeamAnswers {
public:
    /// None where nobody looked yet.
    std::optional<SeamAnswer> of(const SeamKey& key) const;
    /// Takes over what `others` know.
    void merge(const SeamAnswers& others);
    /// Keeps an answer.
    void add(const SeamKey& key, const SeamAnswer& answer);
    /// How many there are.
    std::size_t size() const { return known_ ? known_->size() : 0; }

private:
    struct Hash {
        std::size_t operator()(const SeamKey& key) const { return key.low; }
    };
    using Known = std::unordered_map<SeamKey, SeamAnswer, Hash>;

public:
    /// All of them, in no order.
    const Known& all() const;

private:
    Known& own();
    std::shared_ptr<Known> known_;
};

/// The key of a question about takes of this content.
SeamKey keyOf(const SeamQuestion& question, std::uint64_t earlierContent, std::uint64_t laterContent);

} // namespace lampo
