#pragma once

#include "pipeline/outcome.h"

namespace lampo {

/// A stroke that could stand for another one.
struct Donor {
    TakePlace at;        ///< its start
    Decibels level;      ///< against a strong stroke of its drum
    double offLevel = 0; ///< dB from that of the strokes around the one it stands for
    FrameCount alone{};  ///< how far the nearest stroke of any other drum lies
    FrameCount before{}; ///< and the stroke of its own drum before it
    FrameCount behind{}; ///< and that behind it
    double unlike = 0;   ///< the less, the better: see donorsFor()
};

/// Strokes of the same drum in all takes that would stand for the chosen hit, the best first: as loud as the drum's
/// strokes of its sort around it (their median), with no other drum within 60 ms (or only those that are there as
/// well), with a tail as long as is needed and nothing of its own drum ringing into it, and dated by their mean.
/// Errors: badValue where the hit has no drum with a mic.
Expected<std::vector<Donor>> donorsFor(const Session& session, const Outcome& outcome, HitIndex hit);

/// How loud a donor is made.
enum class DonorLevel {
    neighbours, ///< as the drum's strokes of its sort around the one it stands for
    replaced,   ///< as the one it stands for
    recorded,   ///< as it is
};

/// The chosen hit's drum replaced by a donor on its own mics, from the lead-in to the next hit or to where the
/// donor's drum was struck next. Errors: those of donorsFor().
Expected<Patch> replacement(const Session& session, const Outcome& outcome, HitIndex hit, const Donor& donor,
                            DonorLevel level = DonorLevel::neighbours);

} // namespace lampo
