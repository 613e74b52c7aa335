#include "seams/seam_answers.h"

#include <xxhash.h>

#include <algorithm>

namespace lampo {

bool SeamQuestion::allows(Range<ResultFrame> place) const {
    return shortest <= place.length() && place.length() <= longest &&
           std::any_of(free.begin(), free.end(), [&](const Range<ResultFrame>& part) {
               return part.begin <= place.begin && place.end <= part.end;
           });
}

std::optional<SeamAnswer> SeamAnswers::of(const SeamKey& key) const {
    if (!known_)
        return std::nullopt;
    const auto found = known_->find(key);
    return found == known_->end() ? std::nullopt : std::optional(found->second);
}

void SeamAnswers::merge(const SeamAnswers& others) {
    if (others.known_ == known_ || !others.known_)
        return;
    if (!known_)
        known_ = others.known_;
    else
        for (const auto& [key, answer] : *others.known_)
            own().insert_or_assign(key, answer);
}

void SeamAnswers::add(const SeamKey& key, const SeamAnswer& answer) {
    own()[key] = answer;
}

const SeamAnswers::Known& SeamAnswers::all() const {
    static const Known none;
    return known_ ? *known_ : none;
}

/// Its own copy where others share it.
SeamAnswers::Known& SeamAnswers::own() {
    if (!known_)
        known_ = std::make_shared<Known>();
    else if (known_.use_count() > 1)
        known_ = std::make_shared<Known>(*known_);
    return *known_;
}

SeamKey keyOf(const SeamQuestion& question, std::uint64_t earlierContent, std::uint64_t laterContent) {
    thread_local std::vector<std::uint64_t> all; // thousands of times in a row
    all.assign({earlierContent, laterContent});
    const auto add = [&](std::int64_t number) { all.push_back(static_cast<std::uint64_t>(number)); };
    // By the source, so that it is the same wherever the two slices go together.
    add((question.ruled.begin - question.from).frame);
    add((question.ruled.begin - question.to).frame);
    add(question.ruled.length().frames);
    add(question.shortest.frames);
    add(question.longest.frames);
    add(static_cast<std::int64_t>(question.curve));
    for (const Range<ResultFrame>& free : question.free) {
        add((free.begin - question.ruled.begin).frames);
        add((free.end - question.ruled.begin).frames);
    }
    if (question.stretch) {
        add((question.ruled.begin - question.stretch->over.begin).frames);
        add(question.stretch->over.length().frames);
        add(question.stretch->tail.length().frames);
    }
    const XXH128_hash_t hash = XXH3_128bits(all.data(), all.size() * sizeof(all.front()));
    return {hash.high64, hash.low64};
}

} // namespace lampo
