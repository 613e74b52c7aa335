#pragma once

#include "audio/source_file.h"
#include "base/position.h"
#include "base/range.h"
#include "base/units.h"
#include "seams/plan.h"
#include "session/session.h"

#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// How an item of a lane passes into sound out of what lies before it. The cut lies at the item's begin.
struct Dissolve {
    FrameCount before;                    ///< frames ahead of the cut during which the item already sounds
    FrameCount after;                     ///< and behind it during which what was before still sounds
    FadeCurve curve = FadeCurve::matched; ///< how both sides fade
    std::optional<float> likeness{};      ///< of the sides, where the edit sets it: see Segment
    std::string kind{}; ///< what sort of seam it is, as reports have it; empty: the edge of a patch
    bool operator==(const Dissolve&) const = default;
};

/// What sounds in a lane from its cut to the next.
struct LaneItem {
    Range<ResultFrame> range;                 ///< of the result, from cut to cut
    std::optional<Dissolve> in{};             ///< none: it begins at once
    bool silent = false;                      ///< nothing sounds, and what follows means nothing
    std::string take{};                       ///< its letter
    SourceFrame from{};                       ///< of the take, at the item's begin
    std::optional<Range<SourceFrame>> tail{}; ///< lengthened: what of the take fills `over`
    std::optional<Range<ResultFrame>> over{}; ///< there with `tail`
    double gain = 1;                          ///< amplitude
    bool operator==(const LaneItem&) const = default;
};

/// What one mic plays; its items tile the result.
struct Lane {
    std::string mic;             ///< its stem
    std::vector<LaneItem> items; ///< one behind another, without gaps
    bool operator==(const Lane&) const = default;
};

/// A file, and where it lies in its take.
struct LaneMedia {
    std::string take;  ///< its letter
    std::string mic;   ///< whose lane plays it
    SourceFile source; ///< where its first frame lies in the take
    FrameCount length; ///< of its take; the file may be shorter
    bool operator==(const LaneMedia&) const = default;
};

/// A section by its name.
struct TimelineMarker {
    std::string name;         ///< not empty
    Range<ResultFrame> range; ///< of the section, inside the song
    bool operator==(const TimelineMarker&) const = default;
};

/// The edit before anything is rendered: which stretch of which file every mic plays when, and how one passes into
/// the next. Patches are part of the lanes of their mics.
struct EditTimeline {
    std::string title;                   ///< of the song
    SampleRate rate;                     ///< of all frames
    std::vector<Lane> lanes;             ///< one for each mic, in their order
    std::vector<LaneMedia> media;        ///< take by take, of those that sound
    std::vector<TimelineMarker> markers; ///< in the order of their begins
    bool operator==(const EditTimeline&) const = default;
};

/// All that a plan says. Where a patch begins or ends inside a seam, the lane is cut there and the seam's fade ends
/// at the cut. Pure.
EditTimeline timelineOf(const Session& session, const Plan& plan);

} // namespace lampo
