#include "hits/hit_finder.h"

#include <algorithm>
#include <cmath>

namespace lampo {
namespace {

/// A louder stroke this soon after a softer one is the main stroke of a flam: the softer one rides with it.
constexpr Decibels flamStep{4};

/// One attack of one guide that passed threshold, bleed and gap.
struct Attack {
    SourceFrame at;
    SourceFrame grace; ///< start of a soft stroke just before it that belongs to it; otherwise `at`
    std::size_t mic;
    Decibels level;
};

class Finder {
public:
    Finder(const Session& session, char take, std::span<const MicAnalysis* const> analyses)
        : session_(session), take_(take) {
        found_.judged.resize(session.mics.size());
        for (std::size_t mic = 0; mic < std::min({session.mics.size(), analyses.size(), mostMics}); ++mic)
            if (session.mics[mic].guide && analyses[mic])
                guides_.push_back({mic, analyses[mic]->candidates});
    }

    FoundHits run() {
        judge();
        std::sort(attacks_.begin(), attacks_.end(),
                  [](const Attack& a, const Attack& b) { return std::pair(a.at, a.mic) < std::pair(b.at, b.mic); });
        joinClusters();
        for (const Correction& correction : session_.corrections)
            if (correction.take == take_)
                obey(correction);
        return std::move(found_);
    }

private:
    void judge() {
        const auto matrix = BleedMatrix::learn(guides_, session_.rate);
        const auto explained = explainBleed(guides_, matrix, session_.rate);
        for (std::size_t g = 0; g < guides_.size(); ++g) {
            const auto& candidates = guides_[g].candidates;
            const Mic& mic = session_.mics[guides_[g].mic];
            auto& judged = found_.judged[guides_[g].mic];
            judged.resize(candidates.size());
            for (std::size_t c = 0; c < candidates.size(); ++c) {
                if (candidates[c].level < mic.threshold)
                    judged[c].verdict = Verdict::below;
                else if (explained[g][c] != g)
                    judged[c] = {Verdict::bleed, guides_[explained[g][c]].mic};
            }
            keepGap(guides_[g], judged);
        }
    }

    void keepGap(const GuideCandidates& guide, std::vector<JudgedCandidate>& judged) {
        const FrameCount gap = toFrames(session_.mics[guide.mic].shortestGap, session_.rate);
        std::size_t kept = judged.size(); // index of the last hit's candidate
        for (std::size_t c = 0; c < judged.size(); ++c) {
            if (judged[c].verdict != Verdict::hit)
                continue;
            const Candidate& now = guide.candidates[c];
            if (kept == judged.size() || now.at - guide.candidates[kept].at >= gap) {
                attacks_.push_back({now.at, now.at, guide.mic, now.level});
                kept = c;
            } else if (now.level.value > guide.candidates[kept].level.value + flamStep.value) {
                judged[kept].verdict = Verdict::tooNear;
                attacks_.back() = {now.at, attacks_.back().grace, guide.mic, now.level};
                kept = c;
            } else {
                judged[c].verdict = Verdict::tooNear;
            }
        }
    }

    /// A cluster opens with its earliest attack and takes each guide once.
    void joinClusters() {
        const FrameCount window = toFrames(session_.clusters.window, session_.rate);
        for (const Attack& attack : attacks_) {
            const bool joins = !found_.hits.empty() && attack.at - opened_ <= window &&
                               (found_.hits.back().heardBy & onlyMic(attack.mic)) == 0;
            if (!joins) {
                opened_ = attack.at;
                found_.hits.push_back({attack.at, attack.grace, attack.at, attack.mic, onlyMic(attack.mic),
                                       voiceOf(session_.mics[attack.mic].role), attack.level, false});
                continue;
            }
            Hit& hit = found_.hits.back();
            hit.heardBy |= onlyMic(attack.mic);
            hit.first = std::min(hit.first, attack.grace);
            hit.last = std::max(hit.last, attack.at);
            if (attack.mic < hit.mic) { // the order of mics is their rank
                hit.anchor = attack.at;
                hit.mic = attack.mic;
                hit.voice = voiceOf(session_.mics[attack.mic].role);
                hit.level = attack.level;
            }
        }
        // A grace stroke may reach back before the cluster in front of it.
        for (std::size_t i = 1; i < found_.hits.size(); ++i)
            if (found_.hits[i].first <= found_.hits[i - 1].last)
                found_.hits[i].first = std::min(found_.hits[i].anchor, found_.hits[i - 1].last + FrameCount{1});
    }

    void obey(const Correction& correction) {
        auto& hits = found_.hits;
        const auto after = std::lower_bound(hits.begin(), hits.end(), correction.at,
                                            [](const Hit& hit, SourceFrame at) { return hit.anchor < at; });
        auto nearest = hits.end();
        for (auto near : {after, after == hits.begin() ? hits.end() : std::prev(after)})
            if (near != hits.end() && distance(*near, correction) <= correctionTolerance.frames &&
                (nearest == hits.end() || distance(*near, correction) < distance(*nearest, correction)))
                nearest = near;
        if (correction.kind == Correction::Kind::add) {
            if (nearest == hits.end())
                hits.insert(after,
                            {correction.at, correction.at, correction.at, 0, 0, correction.voice, {0}, true});
        } else if (nearest == hits.end()) {
            found_.lost.push_back(correction);
        } else if (correction.kind == Correction::Kind::remove) {
            hits.erase(nearest);
        }
    }

    static std::int64_t distance(const Hit& hit, const Correction& correction) {
        return std::abs((hit.anchor - correction.at).frames);
    }

    const Session& session_;
    char take_;
    std::vector<GuideCandidates> guides_;
    std::vector<Attack> attacks_;
    SourceFrame opened_;
    FoundHits found_;
};

} // namespace

FoundHits findHits(const Session& session, char take, std::span<const MicAnalysis* const> analyses) {
    return Finder(session, take, analyses).run();
}

} // namespace lampo
