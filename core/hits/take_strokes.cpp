#include "hits/take_strokes.h"

#include "hits/detection.h"
#include "strokes/mean_stroke.h"

#include <algorithm>

namespace lampo {
namespace {

/// Shells have a body, metal has none; from the kits in bench/ears.cpp, with room to spare.
Decibels bodyOf(Role role) {
    switch (role) {
    case Role::kick:
    case Role::tom:
        return {2};
    case Role::snare:
        return {-8};
    default:
        return {-100};
    }
}

std::vector<Witness> witnessesOf(const Session& session,
                                 std::span<const std::shared_ptr<const MicAnalysis>> analyses) {
    std::vector<Witness> witnesses;
    for (std::size_t mic = 0; mic < std::min({session.mics.size(), analyses.size(), mostMics}); ++mic)
        if (analyses[mic] && bearsWitness(session, mic))
            witnesses.push_back(
                {mic, analyses[mic].get(), onsetSettings(emphasisOf(session.mics[mic])).weights,
                 session.mics[mic].role == Role::overhead ? Witness::Place::overhead : Witness::Place::drum,
                 bodyOf(session.mics[mic].role)});
    return witnesses;
}

/// Levels by the drum's own strong strokes, strokes' dates by its mean stroke.
MicAnalysis knownNow(const MicAnalysis& heard, const KnownDrum& drum, std::span<const Told> told, SampleRate rate,
                     bool dated) {
    MicAnalysis known{heard.candidates, drum.strokes > 0 ? drum.strong : heard.strong, {}};
    std::vector<std::size_t> strokes;
    std::vector<Decibels> levels;
    for (std::size_t c = 0; c < told.size(); ++c) {
        known.candidates[c].level = told[c].level;
        if (told[c].as != Told::As::stroke)
            continue;
        strokes.push_back(c);
        levels.push_back(told[c].level);
    }
    if (!dated)
        return known;
    const auto dates = dateStrokes(heard, strokes, levels, rate);
    for (std::size_t s = 0; s < dates.size(); ++s)
        known.candidates[strokes[s]].at = heard.candidates[strokes[s]].at + toFrames(dates[s].shift, rate);
    // Order holds, whatever the dates say of each other.
    for (std::size_t c = 1; c < known.candidates.size(); ++c)
        known.candidates[c].at = std::max(known.candidates[c].at, known.candidates[c - 1].at + FrameCount{1});
    return known;
}

} // namespace

StrokesQuestion strokesQuestion(const Session& session, std::vector<std::shared_ptr<const MicAnalysis>> heard) {
    StrokesQuestion question{session.rate, {}, std::move(heard)};
    for (const Mic& mic : session.mics)
        question.places.push_back({mic.role, mic.guide, mic.group, emphasisOf(mic)});
    return question;
}

/// Of a drum's several mics its guides, or else the first.
bool bearsWitness(const Session& session, std::size_t mic) {
    const Mic& one = session.mics[mic];
    if (one.guide || one.role == Role::overhead)
        return true;
    if (!isCloseMic(one.role) && one.role != Role::hat && one.role != Role::cymbal)
        return false;
    const auto sameDrum = [&](const Mic& other) { return !one.group.empty() && other.group == one.group; };
    const auto guided = [&](const Mic& other) { return sameDrum(other) && other.guide; };
    const auto here = session.mics.begin() + static_cast<std::ptrdiff_t>(mic);
    return std::none_of(session.mics.begin(), session.mics.end(), guided) &&
           std::none_of(session.mics.begin(), here, sameDrum);
}

TakeStrokes tellStrokes(const Session& session, std::span<const std::shared_ptr<const MicAnalysis>> analyses) {
    const std::size_t mics = session.mics.size();
    const auto witnesses = witnessesOf(session, analyses);
    WhoStruck who = tellWhoStruck(witnesses, session.rate);
    TakeStrokes result{{analyses.begin(), analyses.end()}, {}, {}, Paths(mics), {}};
    result.mics.resize(mics);
    result.told.resize(mics);
    result.drums.resize(mics);
    for (std::size_t w = 0; w < witnesses.size(); ++w) {
        const std::size_t mic = witnesses[w].mic;
        result.mics[mic] = std::make_shared<const MicAnalysis>(knownNow(
            *analyses[mic], who.drums[w], who.told[w], session.rate, witnesses[w].place == Witness::Place::drum));
        for (std::size_t c = 0; c < who.told[w].size(); ++c)
            if (who.told[w][c].as == Told::As::stroke && witnesses[w].place == Witness::Place::drum)
                result.strokes.push_back({result.mics[mic]->candidates[c].at, mic, who.told[w][c].level,
                                          voiceOf(session.mics[mic].role)});
        result.told[mic] = std::move(who.told[w]);
        result.drums[mic] = who.drums[w];
        for (std::size_t other = 0; other < witnesses.size(); ++other)
            result.paths.at(mic, witnesses[other].mic) = who.paths.at(w, other);
    }
    std::sort(result.strokes.begin(), result.strokes.end(),
              [](const Stroke& a, const Stroke& b) { return std::pair(a.at, a.mic) < std::pair(b.at, b.mic); });
    return result;
}

} // namespace lampo
