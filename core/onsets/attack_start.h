#pragma once

#include <cstddef>
#include <span>

namespace lampo {

/// The index k at which `samples` are best told apart into a quiet and a loud part: the minimum of
///     k · log var(x[0..k)) + (n − k − 1) · log var(x[k..n))
/// (the Akaike picker of seismology, Maeda 1985, from memory). No k below
/// `earliest` is considered. n below 8 gives 0.
std::size_t akaikePick(std::span<const float> samples, std::size_t earliest = 0);

/// The first sample of the attack inside `samples`, which begin in the quiet before it and end at its peak:
/// Akaike's pick on the pre-emphasised signal, moved back to where the signal leaves what was there before, then to
/// Akaike's pick is not before `earliest`: what came before is there to compare with. Last, to
/// a zero crossing when one lies within `crossingReach` samples before.
std::size_t attackStart(std::span<const float> samples, std::size_t earliest, std::size_t crossingReach);

} // namespace lampo
