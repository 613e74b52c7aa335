#include "proof/sound_content.h"

#include "pipeline/take_content.h"

#include <algorithm>
#include <bit>

namespace lampo {
namespace {

std::int64_t number(std::uint64_t hash) {
    return static_cast<std::int64_t>(hash);
}

} // namespace

SoundContent::SoundContent(const Session& session, const Plan& plan) : plan_(plan) {
    std::uint64_t roles = 0; // by which mics are listened to otherwise
    for (const Mic& mic : session.mics)
        roles = contentOf({number(roles), static_cast<std::int64_t>(mic.role)});
    for (const Take& take : session.takes)
        takes_.push_back(contentOf({number(contentOf(take, session.rate)), number(roles)}));
    for (const PlannedPatch& patch : plan.patches)
        longestPatch_ = std::max(longestPatch_, patch.sounds.length());
}

std::uint64_t SoundContent::ofSegment(const Segment& segment, Range<ResultFrame> stretch) const {
    const auto within = [&](ResultFrame at) {
        return (std::clamp(at, stretch.begin, stretch.end) - stretch.begin).frames;
    };
    const std::int64_t stretched =
        segment.stretch ? number(contentOf({segment.stretch->tail.begin.frame, segment.stretch->tail.end.frame,
                                            segment.stretch->over.length().frames,
                                            (segment.stretch->over.begin - stretch.begin).frames}))
                        : 0;
    const bool begins = segment.sounds.begin >= stretch.begin, ends = segment.sounds.end <= stretch.end;
    return contentOf({number(takes_[segment.take]), (stretch.begin - segment.shift).frame,
                      within(segment.sounds.begin), within(segment.sounds.end), begins ? segment.fadeIn.frames : 0,
                      ends ? segment.fadeOut.frames : 0, begins ? static_cast<std::int64_t>(segment.curve) : 0,
                      begins ? std::bit_cast<std::int32_t>(segment.likeness.value_or(-9)) : 0, stretched});
}

std::uint64_t SoundContent::ofPatch(const PlannedPatch& patch, Range<ResultFrame> stretch) const {
    return contentOf({(patch.sounds.begin - stretch.begin).frames, (patch.sounds.end - stretch.begin).frames,
                      patch.fadeIn.frames, patch.fadeOut.frames, number(patch.mics),
                      std::bit_cast<std::int32_t>(patch.gain), patch.from ? number(takes_[patch.from->take]) : 0,
                      patch.from ? (stretch.begin - patch.from->shift).frame : 0});
}

std::uint64_t SoundContent::of(Range<ResultFrame> stretch) const {
    std::uint64_t content = contentOf({stretch.length().frames});
    const auto endsBefore = [](const Segment& segment, ResultFrame at) { return segment.sounds.end <= at; };
    for (auto segment = std::lower_bound(plan_.segments.begin(), plan_.segments.end(), stretch.begin, endsBefore);
         segment != plan_.segments.end() && segment->sounds.begin < stretch.end; ++segment)
        content = contentOf({number(content), number(ofSegment(*segment, stretch))});
    const auto beginsBefore = [](const PlannedPatch& patch, ResultFrame at) { return patch.sounds.begin < at; };
    for (auto patch = std::lower_bound(plan_.patches.begin(), plan_.patches.end(), stretch.begin - longestPatch_,
                                       beginsBefore);
         patch != plan_.patches.end() && patch->sounds.begin < stretch.end; ++patch)
        if (patch->sounds.end > stretch.begin)
            content = contentOf({number(content), number(ofPatch(*patch, stretch))});
    return content;
}

} // namespace lampo
