#include "render/kit_reader.h"

#include "base/parallel.h"

#include <algorithm>

namespace lampo {

KitReader::KitReader(const Session& session, Unreadable unreadable)
    : rate_(session.rate), unreadable_(unreadable), mics_(session.mics.size()), silence_(session.mics.size()) {
    for (const Take& take : session.takes)
        for (const auto& file : take.files)
            sources_.push_back({file, nullptr, {}});
}

KitReader& KitReader::beside() {
    if (!beside_) {
        beside_.reset(new KitReader(rate_, unreadable_, mics_));
        for (const Source& source : sources_)
            beside_->sources_.push_back({source.file, nullptr, {}});
    }
    return *beside_;
}

Expected<void> KitReader::fetch(TakeIndex take, SourceFrame at, std::size_t count, MicSet mics) {
    std::vector<MicIndex> wanting;
    for (MicIndex mic; mic < mics_; ++mic)
        if (const Source& source = sources_[take * mics_ + mic];
            (mics & onlyMic(mic)) && !source.file.empty() && source.trouble.empty() &&
            !(source.reader && source.reader->holds(at, count)))
            wanting.push_back(mic);
    return tryEachIndex(
        wanting.size(),
        [&](std::size_t i) -> Expected<void> { return frames(take, wanting[i], at, count).map([](auto&&) {}); },
        ioThreads);
}

Expected<std::span<const float>> KitReader::frames(TakeIndex take, MicIndex mic, SourceFrame at,
                                                   std::size_t count) {
    Source& source = sources_[take * mics_ + mic];
    if (source.file.empty() || !source.trouble.empty())
        return silence(mic, count);
    auto sound = read(source, at, count);
    if (sound || unreadable_ == Unreadable::isAnError)
        return sound;
    source.trouble = sound.error().sentence;
    return silence(mic, count);
}

Expected<std::span<const float>> KitReader::read(Source& source, SourceFrame at, std::size_t count) const {
    if (!source.reader) {
        auto opened = AudioReader::open(source.file, rate_);
        if (!opened)
            return tl::unexpected(opened.error());
        source.reader = std::make_unique<WindowReader>(std::move(*opened));
    }
    return source.reader->frames(at, count);
}

std::span<const float> KitReader::silence(MicIndex mic, std::size_t count) {
    silence_[mic].resize(std::max(silence_[mic].size(), count), 0.0F);
    return std::span<const float>(silence_[mic]).first(count);
}

std::string KitReader::trouble() const {
    const auto silent = std::find_if(sources_.begin(), sources_.end(),
                                     [](const Source& source) { return !source.trouble.empty(); });
    if (silent != sources_.end())
        return silent->trouble;
    return beside_ ? beside_->trouble() : std::string();
}

} // namespace lampo
