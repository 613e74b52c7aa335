#include "proof/silences.h"

#include "audio/audio_reader.h"
#include "base/parallel.h"

#include <algorithm>
#include <cmath>
#include <fmt/core.h>

namespace lampo {
namespace {

constexpr float silent = 1.6e-5F;    ///< −96 dBFS: below the last bit of 16
constexpr double mostlySilent = 0.2; ///< a gate's work, or a drum that is not played: common practice, no source

} // namespace

Expected<std::vector<Range<SourceFrame>>> SilencesHeard::of(const SourceFile& file, SampleRate rate,
                                                            const Progress& progress) {
    {
        const std::scoped_lock lock(guard_);
        if (const auto found = known_.find({file, rate}); found != known_.end())
            return found->second;
    }
    auto reader = AudioReader::open(file, rate);
    if (!reader)
        return tl::unexpected(reader.error());
    const std::int64_t length = reader->info().length.frames, shortest = rate.hz / 20;
    std::vector<float> block(1 << 16);
    std::vector<Range<SourceFrame>> all;
    std::int64_t quiet = 0, begin = file.offset.frames > 0 ? file.offset.frames : 0;
    std::int64_t since = begin;
    const auto end = [&](std::int64_t at) {
        if (at - since >= shortest) {
            all.push_back({SourceFrame{since}, SourceFrame{at}});
            quiet += at - since;
        }
    };
    for (std::int64_t at = begin; at < length; at += std::ssize(block)) {
        if (progress.cancelled())
            return fail(ErrorKind::cancelled, "The proof was stopped");
        const auto count = static_cast<std::size_t>(std::min<std::int64_t>(std::ssize(block), length - at));
        if (auto read = reader->read(SourceFrame{at}, std::span(block).first(count)); !read)
            return tl::unexpected(read.error());
        for (std::size_t i = 0; i < count; ++i)
            if (std::abs(block[i]) > silent) {
                end(at + static_cast<std::int64_t>(i));
                since = at + static_cast<std::int64_t>(i) + 1;
            }
    }
    end(length);
    // Before the first sound and behind the last nothing fell silent.
    if (!all.empty() && all.front().begin.frame <= begin)
        all.erase(all.begin());
    if (!all.empty() && all.back().end.frame >= length)
        all.pop_back();
    if (static_cast<double>(quiet) > mostlySilent * static_cast<double>(length))
        all.clear();
    const std::scoped_lock lock(guard_);
    return known_.insert_or_assign({file, rate}, std::move(all)).first->second;
}

Expected<std::vector<ProofPlace>> placesOfSilence(const Session& session, const Outcome& outcome,
                                                  SilencesHeard& known, const Progress& progress) {
    struct Source {
        TakeIndex take;
        MicIndex mic;
        std::vector<Range<SourceFrame>> silences;
    };
    std::vector<Source> sources;
    for (TakeIndex take; take < session.takes.size(); ++take)
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            if (session.sounds(take) && !session.takes[take].files[mic].empty())
                sources.push_back({take, mic, {}});
    const auto read = tryEachIndex(sources.size(), [&](std::size_t i) {
        Source& source = sources[i];
        return known.of(session.takes[source.take].files[source.mic], session.rate, progress)
            .map([&](std::vector<Range<SourceFrame>> found) { source.silences = std::move(found); });
    });
    if (!read)
        return tl::unexpected(read.error());
    std::vector<ProofPlace> places;
    for (const Source& source : sources)
        for (const Range<SourceFrame>& silence : source.silences)
            for (const Segment& segment : outcome.plan->segments) {
                if (segment.take != source.take || segment.stretch)
                    continue;
                const Range<ResultFrame> heard =
                    segment.sounds.intersected({silence.begin + segment.shift, silence.end + segment.shift});
                const double ms = toMilliseconds(heard.length(), session.rate).value;
                if (heard.empty() || gravityOf(ProofKind::silent, ms) < toldGravity)
                    continue;
                if (!places.empty() && places.back().mics == onlyMic(source.mic) &&
                    heard.begin <= places.back().where.end) { // over several slices
                    places.back().where.end = std::max(places.back().where.end, heard.end);
                    continue;
                }
                ProofPlace place{heard, ProofKind::silent, ms,
                                 fmt::format("{} fell silent in the recording", session.mics[source.mic].stem),
                                 onlyMic(source.mic)};
                place.content = contentOf({static_cast<std::int64_t>(ProofKind::silent),
                                           session.takes[source.take].letter.value, silence.begin.frame,
                                           static_cast<std::int64_t>(source.mic.value)});
                places.push_back(std::move(place));
            }
    for (ProofPlace& place : places)
        place.size = toMilliseconds(place.where.length(), session.rate).value;
    return places;
}

} // namespace lampo
