#include "mix/note_sound.h"

#include "base/range.h"

#include <algorithm>

namespace lampo {

NotePlayer::NotePlayer(std::shared_ptr<const NoteSounds> notes) : notes_(std::move(notes)) {
    for (const NoteSound& note : *notes_)
        longest_ = std::max(longest_, FrameCount{std::ssize(*note.sound)});
}

void NotePlayer::add(ResultFrame at, std::span<float> sound) const {
    const ResultFrame end = at + FrameCount{std::ssize(sound)};
    auto note = std::lower_bound(notes_->begin(), notes_->end(), at - longest_,
                                 [](const NoteSound& each, ResultFrame place) { return each.at < place; });
    for (; note != notes_->end() && note->at < end; ++note) {
        const auto sounds =
            Range<ResultFrame>{note->at, note->at + FrameCount{std::ssize(*note->sound)}}.intersected({at, end});
        for (ResultFrame place = sounds.begin; place < sounds.end; place = place + FrameCount{1})
            sound[static_cast<std::size_t>((place - at).frames)] +=
                note->gain * (*note->sound)[static_cast<std::size_t>((place - note->at).frames)];
    }
}

} // namespace lampo
