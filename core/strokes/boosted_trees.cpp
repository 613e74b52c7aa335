#include "strokes/boosted_trees.h"

#include <array>
#include <cmath>
#include <cstdint>

namespace lampo {
namespace {

/// A fork goes to the left where its feature is at most `threshold`; a leaf is its own left branch and adds its
/// `threshold` to the log odds.
struct Node {
    std::uint8_t feature;     ///< its index
    std::uint8_t left, right; ///< within the tree
    float threshold;
};

#include "strokes/boosted_trees.inc"

static_assert(trainedOn == strokeFeatureCount, "train the trees anew: docs/decisions/boosted-trees.md");

} // namespace

double strokeProbability(const StrokeFeatures& features) {
    double logOdds = bias;
    for (const std::uint16_t root : roots) {
        std::uint8_t at = 0;
        while (nodes[root + at].left != at) {
            const Node& fork = nodes[root + at];
            at = features[fork.feature] <= fork.threshold ? fork.left : fork.right;
        }
        logOdds += nodes[root + at].threshold;
    }
    return 1 / (1 + std::exp(-logOdds));
}

} // namespace lampo
