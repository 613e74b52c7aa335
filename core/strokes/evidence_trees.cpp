#include "strokes/evidence_trees.h"

#include <array>
#include <cmath>
#include <cstdint>

namespace lampo {
namespace {

/// A fork goes to the left where its number is at most `limit`; of a leaf (which is its own left branch), `limit`
/// is what it adds.
struct Node {
    std::uint8_t number;      ///< of the evidence
    std::uint8_t left, right; ///< within the tree
    float limit;
};

#include "strokes/evidence_trees.inc"

} // namespace

double likelihoodOf(const Evidence& evidence) {
    double odds = bias;
    for (const std::uint16_t root : roots) {
        std::uint8_t at = 0;
        while (nodes[root + at].left != at) {
            const Node& fork = nodes[root + at];
            at = evidence[fork.number] <= fork.limit ? fork.left : fork.right;
        }
        odds += nodes[root + at].limit;
    }
    return 1 / (1 + std::exp(-odds));
}

} // namespace lampo
