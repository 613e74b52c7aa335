#include "hits/hit_finder.h"

#include "hits/cluster.h"
#include "map/musical_map.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace lampo {
namespace {

/// A louder stroke this soon after a softer one is the main stroke of a flam: the softer one rides with it.
constexpr Decibels flamStep{4};
/// What the user takes in is a candidate when one lies this near.
constexpr Milliseconds sameAttack{2};

/// How a guide is listened to at one place.
struct Detection {
    Decibels threshold;
    FrameCount gap;
    bool judgesBleed = true;
};

/// Where in the song a take's own material belongs, and which section rules there.
class OwnPlaces {
public:
    OwnPlaces(const Session& session, const MusicalMap& map, SourceToSong shift)
        : form_(session.form), shift_(shift) {
        for (const Section& section : session.sections)
            if (!section.beats) // those set timing only
                ranges_.emplace_back(rangeOf(section, map), &section);
    }
    /// None where its bars were deleted.
    std::optional<SongFrame> songAt(SourceFrame place) const { return songPlace(form_, place + shift_); }
    bool hasSections() const { return !ranges_.empty(); }
    const Section* sectionAt(SourceFrame place) const {
        const auto song = songAt(place);
        const auto found = std::partition_point(
            ranges_.begin(), ranges_.end(), [&](const auto& range) { return song && range.first.end <= *song; });
        return song && found != ranges_.end() && found->first.contains(*song) ? found->second : nullptr;
    }

private:
    const Form& form_;
    SourceToSong shift_;
    std::vector<std::pair<Range<SongFrame>, const Section*>> ranges_;
};

/// A guide and what it heard.
struct Guide {
    MicIndex mic; ///< index in the session
    std::span<const Candidate> candidates;
};

std::vector<Guide> guidesOf(const Session& session, const TakeStrokes& strokes) {
    std::vector<Guide> guides;
    for (MicIndex mic; mic < std::min(session.mics.size(), strokes.mics.size()); ++mic)
        if (session.mics[mic].guide && strokes.mics[mic] && strokes.drums[mic].isWitness)
            guides.push_back({mic, strokes.mics[mic]->candidates});
    return guides;
}

class Finder {
public:
    Finder(const Session& session, const Take& take, const TakeStrokes& strokes)
        : session_(session), take_(take), strokes_(strokes), map_(session.map, session.rate),
          places_(session, map_, take.shift()), guides_(guidesOf(session, strokes)) {
        found_.judged.resize(session.mics.size());
    }

    FoundHits run() {
        std::size_t candidates = 0;
        for (const Guide& guide : guides_)
            candidates += guide.candidates.size();
        attacks_.reserve(candidates);
        for (const Guide& guide : guides_) {
            judge(guide);
            keepGap(guide);
        }
        for (const Correction& correction : session_.corrections)
            if (correction.take == take_.letter && correction.kind == Correction::Kind::add)
                takeIn(correction);
        std::sort(attacks_.begin(), attacks_.end(), [](const Attack& a, const Attack& b) {
            return std::pair(a.at, a.rank()) < std::pair(b.at, b.rank());
        });
        clusters_ =
            joinClusters(attacks_, toFrames(session_.clusters.window, session_.rate), session_.clusters.anchor);
        thin();
        insertBareCuts();
        found_.lost = obeyCorrections(session_, take_.letter, clusters_);
        found_.hits.reserve(clusters_.size());
        for (const Cluster& cluster : clusters_)
            found_.hits.push_back(cluster.hit);
        keepOrder();
        return std::move(found_);
    }

private:
    Detection usualDetection(const Mic& mic) const {
        return {mic.threshold, toFrames(mic.shortestGap, session_.rate), mic.judgesBleed};
    }
    /// The usual one, but for what a section sets at a place.
    Detection detectionAt(const Mic& mic, Detection detection, SourceFrame place) const {
        if (!places_.hasSections())
            return detection;
        const Section* section = places_.sectionAt(place);
        if (const SectionDetection* own = section ? section->detectionOf(mic.stem) : nullptr) {
            detection.threshold = own->threshold.value_or(detection.threshold);
            if (own->shortestGap)
                detection.gap = toFrames(*own->shortestGap, session_.rate);
            detection.judgesBleed = own->judgesBleed.value_or(detection.judgesBleed);
        }
        return detection;
    }

    void judge(const Guide& guide) {
        const Mic& mic = session_.mics[guide.mic];
        const Detection usual = usualDetection(mic);
        auto& judged = found_.judged[guide.mic];
        judged.resize(guide.candidates.size());
        for (std::size_t c = 0; c < judged.size(); ++c) {
            const Candidate& candidate = guide.candidates[c];
            const Detection detection = detectionAt(mic, usual, candidate.at);
            const StrokeVerdict& stroke = strokes_.verdicts[guide.mic][c];
            judged[c].above = {candidate.level.value - detection.threshold.value};
            judged[c].bleedFrom = stroke.explainedBy;
            judged[c].aboveBleed = stroke.aboveBleed;
            if (candidate.level < detection.threshold)
                judged[c].verdict = Verdict::below;
            else if (detection.judgesBleed && stroke.kind != StrokeVerdict::Kind::stroke)
                judged[c].verdict = stroke.kind == StrokeVerdict::Kind::bleed ? Verdict::bleed : Verdict::unlike;
        }
    }

    Attack attackOf(const Guide& guide, std::size_t candidate) const {
        const Candidate& now = guide.candidates[candidate];
        return {now.at,
                now.at,
                guide.mic,
                now.level,
                found_.judged[guide.mic][candidate].above,
                candidate,
                voiceOf(session_.mics[guide.mic].role),
                false,
                strokes_.verdicts[guide.mic][candidate].ownDate};
    }

    void keepGap(const Guide& guide) {
        const Mic& mic = session_.mics[guide.mic];
        const Detection usual = usualDetection(mic);
        auto& judged = found_.judged[guide.mic];
        std::size_t kept = judged.size(); // index of the last hit's candidate
        for (std::size_t c = 0; c < judged.size(); ++c) {
            if (judged[c].verdict != Verdict::hit)
                continue;
            const Candidate& now = guide.candidates[c];
            const FrameCount gap = detectionAt(mic, usual, now.at).gap;
            if (kept == judged.size() || now.at - guide.candidates[kept].at >= gap) {
                attacks_.push_back(attackOf(guide, c));
                kept = c;
            } else if (now.level.value > guide.candidates[kept].level.value + flamStep.value) {
                judged[kept].verdict = Verdict::tooNear;
                const SourceFrame grace = attacks_.back().grace;
                attacks_.back() = attackOf(guide, c);
                attacks_.back().grace = grace;
                kept = c;
            } else {
                judged[c].verdict = Verdict::tooNear;
            }
        }
    }

    std::span<const Candidate> candidatesOf(MicIndex mic) const {
        const auto guide =
            std::find_if(guides_.begin(), guides_.end(), [&](const auto& g) { return g.mic == mic; });
        return guide == guides_.end() ? std::span<const Candidate>{} : guide->candidates;
    }

    std::optional<std::size_t> candidateNear(MicIndex mic, SourceFrame at) const {
        const FrameCount near = toFrames(sameAttack, session_.rate);
        const auto candidates = candidatesOf(mic);
        const auto found = std::partition_point(candidates.begin(), candidates.end(),
                                                [&](const Candidate& c) { return c.at < at - near; });
        if (found == candidates.end() || found->at > at + near)
            return std::nullopt;
        return static_cast<std::size_t>(found - candidates.begin());
    }

    /// An added hit is an attack like the others, whatever the settings say about it.
    void takeIn(const Correction& correction) {
        Attack attack{correction.at, correction.at, {}, {0}, {0}, 0, correction.voice, true};
        attack.mic = session_.micNamed(correction.mic);
        if (attack.mic) {
            const MicIndex mic = *attack.mic;
            if (const auto c = candidateNear(mic, correction.at)) {
                JudgedCandidate& judged = found_.judged[mic][*c];
                if (std::exchange(judged.verdict, Verdict::hit) == Verdict::hit) {
                    for (Attack& known : attacks_) // found already: it only has to stay
                        known.added = known.added || (known.mic == mic && known.candidate == *c);
                    return;
                }
                attack.level = candidatesOf(mic)[*c].level;
                attack.aboveThreshold = judged.above;
                attack.candidate = *c;
            }
        }
        attacks_.push_back(attack);
    }

    bool matters(const Hit& hit) const {
        const SongFrame played = places_.songAt(hit.anchor).value_or(hit.anchor + take_.shift());
        const BarBeat place = map_.barBeat(played);
        const Finest* finest = session_.finestOf(place.bar);
        if (!finest)
            return true;
        const double wholes = (place.beat - 1) / map_.meterOf(place.bar).unit;
        const double step = finest->value.ofWhole();
        const SongFrame line = map_.at(place.bar, std::round(wholes / step) * step);
        const SongFrame nextBar = map_.barStart(place.bar + 1);
        const auto away = std::min(abs(played - line), abs(played - nextBar));
        return away <= toFrames(finest->near, session_.rate);
    }

    /// Leaves out what cannot matter where only coarse notes do; what the user added stays.
    void thin() {
        const auto isSet = [](const Section& section) { return section.finest.has_value(); };
        if (!session_.finest && std::none_of(session_.sections.begin(), session_.sections.end(), isSet))
            return;
        std::erase_if(clusters_, [&](const Cluster& cluster) {
            if (cluster.hit.added || matters(cluster.hit))
                return false;
            for (const Attack& attack : cluster.attacks)
                if (!attack.added && attack.mic)
                    found_.judged[*attack.mic][attack.candidate].verdict = Verdict::tooFine;
            return true;
        });
    }

    void insertBareCuts() {
        for (const Correction& correction : session_.corrections) {
            if (correction.take != take_.letter || correction.kind != Correction::Kind::cut)
                continue;
            const auto after = std::partition_point(clusters_.begin(), clusters_.end(),
                                                    [&](const Cluster& c) { return c.hit.anchor < correction.at; });
            clusters_.insert(after, Cluster::bareCut(correction.at));
        }
    }

    /// Hits do not reach into one another: a grace stroke may lie before the cluster in front of it, and a cut may
    /// have been put inside one.
    void keepOrder() {
        auto& hits = found_.hits;
        for (std::size_t i = 1; i < hits.size(); ++i) {
            const SourceFrame free = hits[i - 1].last + FrameCount{1};
            if (hits[i].first < free)
                hits[i].first = std::min(hits[i].anchor, free);
        }
    }

    const Session& session_;
    const Take& take_;
    const TakeStrokes& strokes_;
    MusicalMap map_;
    OwnPlaces places_;
    std::vector<Guide> guides_;
    std::vector<Attack> attacks_;
    std::vector<Cluster> clusters_;
    FoundHits found_;
};

} // namespace

FoundHits findHits(const Session& session, const Take& take, const TakeStrokes& strokes) {
    return Finder(session, take, strokes).run();
}

} // namespace lampo
