#include "proof/remedies.h"

#include "advice/hit_edits.h"
#include "advice/seam_shapes.h"

#include <algorithm>

namespace lampo {
namespace {

class Remedies {
public:
    Remedies(const Session& session, const Outcome& outcome, const ProofPlace& place)
        : session_(session), outcome_(outcome), place_(place) {}

    std::vector<Remedy> run() {
        switch (place_.kind) {
        case ProofKind::click:
        case ProofKind::dip:
        case ProofKind::swallowedRing:
            seam();
            break;
        case ProofKind::stutter:
        case ProofKind::stretched:
            hole();
            seam();
            break;
        case ProofKind::doubledAttack:
        case ProofKind::lostAttack:
            elsewhere();
            hole();
            otherTakes();
            break;
        case ProofKind::wrongLine:
            lines();
            pin();
            out();
            break;
        case ProofKind::loose:
        case ProofKind::flam:
            mark();
            pin();
            out();
            break;
        case ProofKind::lostCorrection:
            forget();
            break;
        case ProofKind::map:
            if (place_.map)
                add("Change the map", TimingEdit{SetMap{*place_.map, place_.text}});
            break;
        case ProofKind::level:
        case ProofKind::silent:
            otherTakes();
            break;
        case ProofKind::phase:
            break;
        }
        if (place_.patch)
            add("Take the patch away", PatchEdit{DeletePatches{{*place_.patch}}});
        return std::move(found_);
    }

private:
    /// Only what changes something and is allowed.
    void add(std::string label, Edit edit) {
        const auto next = edited(session_, edit);
        if (next && !(*next == session_))
            found_.push_back({std::move(label), std::move(edit)});
    }
    /// The seam that the place is about, or that lies nearest to it.
    const Seam* seamOfPlace() const {
        const auto& seams = outcome_.plan->seams;
        if (place_.seam)
            return &seams[*place_.seam];
        const Seam* nearest = nullptr;
        for (const Seam& seam : seams)
            if (!seam.range.intersected({place_.where.begin - near(), place_.where.end + near()}).empty() &&
                canBeShaped(seam) &&
                (!nearest ||
                 abs(seam.range.begin - place_.where.begin) < abs(nearest->range.begin - place_.where.begin)))
                nearest = &seam;
        return nearest;
    }
    FrameCount near() const { return toFrames(Milliseconds{60}, session_.rate); }
    void shape(std::string label, const std::function<void(const Seam&, SeamByHand&)>& change) {
        const Seam* seam = seamOfPlace();
        if (seam && canBeShaped(*seam))
            add(std::move(label), SeamEdit{shaped(session_, std::span(seam, 1), change)});
    }
    void seam() {
        shape("Longer fade", [&](const Seam& seam, SeamByHand& said) {
            const double ms = toMilliseconds(seam.range.length(), session_.rate).value;
            said.fade = Milliseconds{std::clamp(2 * ms, limits::fade.low, limits::fade.high)};
        });
        elsewhere();
    }
    /// To the middle of the room before where the seam lies.
    void elsewhere() {
        shape("Another place", [&](const Seam& seam, SeamByHand& said) {
            const FrameCount before = seam.range.begin - seam.room.begin;
            said.ahead = seam.ahead + (before > near() ? near() : scaled(before, 0.5));
        });
        if (const Seam* seam = seamOfPlace(); seam && canBeShaped(*seam))
            add("As it was found", SeamEdit{resetSeams(session_, std::span(seam, 1))});
    }
    void hole() {
        for (const auto& [fill, label] :
             {std::pair{Fill::stretch, "Stretch the tail instead"}, std::pair{Fill::borrow, "Borrow instead"}})
            shape(label, [fill = fill](const Seam&, SeamByHand& said) { said.fill = fill; });
    }
    void lines() {
        if (!place_.hit)
            return;
        std::vector<HitIndex> chosen; // all that moved alike
        for (std::size_t hit = *place_.hit; hit < std::min(*place_.hit + place_.hits, outcome_.hits.size()); ++hit)
            chosen.push_back({hit});
        for (const auto& [step, label] : {std::pair{-1, "Line before"}, std::pair{1, "Next line"}})
            if (auto edit = sendEdit(session_, outcome_, chosen, step))
                add(label, std::move(*edit));
    }
    /// Where its attack was heard.
    void mark() {
        if (!place_.hit || !place_.late)
            return;
        const SongHit& hit = outcome_.hits[*place_.hit];
        Correction correction = correctionOf(session_, hit, Correction::Kind::mark);
        correction.to = hit.anchor + *place_.late;
        add("Move its mark to where it sounds", DetectionEdit{Correct{correction}});
    }
    void pin() { correct("Leave it as played", Correction::Kind::pin); }
    void out() { correct("Take the hit out", Correction::Kind::remove); }
    void correct(std::string label, Correction::Kind kind) {
        if (place_.hit)
            add(std::move(label), DetectionEdit{Correct{correctionOf(session_, outcome_.hits[*place_.hit], kind)}});
    }
    /// What was said there and finds nothing: whichever it is.
    void forget() {
        if (!place_.said)
            return;
        add("Forget the correction", DetectionEdit{DeleteCorrections{{*place_.said}}});
        for (const SeamByHand& seam : outcome_.lostSeams)
            if (TakePlace{seam.between.take, seam.between.behind} == *place_.said)
                add("Forget what was said of the seam",
                    SeamEdit{ShapeSeams{{SeamByHand{seam.between, {}, {}, {}, {}}}}});
        for (std::size_t patch = 0; patch < session_.patches.size(); ++patch)
            if (session_.patches[patch].at == *place_.said && session_.patches[patch].ofHit)
                add("Take the patch away", PatchEdit{DeletePatches{{patch}}});
    }
    void otherTakes() {
        const MusicalMap map(session_.map, session_.rate);
        const int bar = map.barAt(asSong(place_.where.begin));
        for (TakeIndex take; take < session_.takes.size(); ++take)
            add("Take " + session_.takes[take].letter.text() + " in this bar",
                TakeEdit{Lay{{map.barStart(bar), map.barStart(bar + 1)}, take, {}}});
    }

    const Session& session_;
    const Outcome& outcome_;
    const ProofPlace& place_;
    std::vector<Remedy> found_;
};

} // namespace

std::vector<Remedy> remediesFor(const Session& session, const Outcome& outcome, const ProofPlace& place) {
    return Remedies(session, outcome, place).run();
}

} // namespace lampo
