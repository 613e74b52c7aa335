#pragma once

#include "base/error.h"
#include "interchange/edit_timeline.h"

#include <filesystem>
#include <string>

namespace lampo {

/// An edit as OpenTimelineIO's JSON (schemas Timeline.1, Stack.1, Track.1, Clip.2, Gap.1, Transition.1,
/// LinearTimeWarp.1; docs/interchange.md): a track for each mic, a clip for each stretch, a transition for each
/// fade. What that format has no word for (fade curves, kinds of seams, channels, gains) is in each object's
/// metadata, under "lampo". Files below `folder`, where it will lie, are named relative to it.
std::string timelineText(const EditTimeline& timeline, const std::filesystem::path& folder);

/// What timelineText() wrote: the same value. Parses it as hostile input. Errors: damagedProject, with `named` in
/// the sentence.
Expected<EditTimeline> timelineFrom(const std::string& text, const std::filesystem::path& folder,
                                    const std::string& named);

} // namespace lampo
