#include "pipeline/outcome.h"

#include "base/parallel.h"
#include "pipeline/companion_attacks.h"
#include "pipeline/take_content.h"
#include "seams/patch_planner.h"
#include "seams/planner.h"

#include <algorithm>
#include <map>

namespace lampo {
namespace {

/// Each take once for every part of the form, so that any of them can be swapped in; then the grafts.
std::vector<LayOrder> ordersOf(const Session& session) {
    std::vector<LayOrder> orders;
    const auto add = [&](const Piece& piece) {
        const LayOrder order{{*piece.take, piece.shift}, coverOf(session, piece)};
        if (std::find(orders.begin(), orders.end(), order) == orders.end())
            orders.push_back(order);
    };
    for (TakeIndex take; take < session.takes.size(); ++take)
        for (const FormPart& part : session.form)
            if (part.moved)
                add({{part.begin, part.begin}, take, SourceToSong{session.takes[take].start + *part.moved}, 0});
    for (const Piece& piece : piecesOf(session))
        if (piece.take)
            add(piece);
    return orders;
}

std::shared_ptr<const LaidTake> laidFor(const Session& session, std::span<const KeptLay> lays, const Piece& piece) {
    const Placed where{*piece.take, piece.shift};
    const auto cover = coverOf(session, piece);
    const auto found = std::find_if(lays.begin(), lays.end(), [&](const KeptLay& lay) {
        return lay.laid->where == where && lay.laid->cover == cover;
    });
    return found == lays.end() ? nullptr : found->laid;
}

void collectHits(Outcome& outcome) {
    std::size_t hits = 0;
    for (const ChosenPiece& piece : outcome.choice.pieces)
        hits += piece.end - piece.first;
    outcome.hits.reserve(hits);
    outcome.landings.reserve(hits);
    for (std::size_t p = 0; p < outcome.choice.pieces.size(); ++p) {
        const ChosenPiece& piece = outcome.choice.pieces[p];
        for (std::size_t hit = piece.first; hit < piece.end; ++hit) {
            outcome.hits.push_back({piece.laid->hits[hit], piece.laid->where.take, piece.laid->where.shift, p});
            outcome.landings.push_back(piece.laid->landings[hit]);
        }
    }
}

std::vector<TakeSound> soundsOf(const Session& session, const Outcome& outcome) {
    std::vector<TakeSound> sounds;
    for (TakeIndex take; take < session.takes.size(); ++take) {
        const auto& strokes = outcome.takes[take]->strokes;
        sounds.push_back({contentOf(session.takes[take], session.rate),
                          strokes ? strokes->starts : std::span<const SourceFrame>{}});
    }
    return sounds;
}

/// Where the hits of each take were found, for those who ask of thousands of places.
class FoundPlaces {
public:
    FoundPlaces(const Session& session, const Outcome& outcome) : tolerance_(correctionTolerance(session.rate)) {
        for (const auto& take : outcome.takes) {
            auto& places = places_.emplace_back();
            for (const Hit& hit : take->found.hits)
                places.push_back(hit.found());
            std::sort(places.begin(), places.end()); // starts that were moved by hand may pass each other
        }
    }
    /// Whether a hit of the take was found near a place.
    bool hasHit(TakeIndex take, SourceFrame at) const {
        const auto& places = places_[take];
        const auto next = std::lower_bound(places.begin(), places.end(), at - tolerance_);
        return next != places.end() && *next <= at + tolerance_;
    }

private:
    FrameCount tolerance_;
    std::vector<std::vector<SourceFrame>> places_;
};

PlannedPatches patchesOn(const Plan& plan, const Session& session, const Outcome& outcome) {
    if (session.patches.empty())
        return {};
    const FoundPlaces found(session, outcome);
    return planPatches(session, plan, [&](TakeIndex take, SourceFrame at) { return found.hasHit(take, at); });
}

/// Those one of whose hits is gone. Beside strokes that ride along as slices of their own there is a seam all the
/// same.
std::vector<SeamByHand> lostSeams(const Session& session, const Outcome& outcome) {
    const FrameCount tolerance = correctionTolerance(session.rate);
    std::vector<SeamByHand> lost;
    if (session.seamsByHand.empty())
        return lost;
    const FoundPlaces found(session, outcome);
    for (const SeamByHand& said : session.seamsByHand) {
        const auto take = session.takeLettered(said.between.take);
        if (!take || !session.sounds(*take))
            continue;
        const auto isThere = [&](SourceFrame place) { return found.hasHit(*take, place); };
        const auto obeys = [&](const Seam& seam) {
            return seam.between && saidAbout(session.seamsByHand, *seam.between, tolerance) == &said;
        };
        const auto& seams = outcome.plan->seams;
        if (!(isThere(said.between.before) && isThere(said.between.behind)) &&
            std::none_of(seams.begin(), seams.end(), obeys))
            lost.push_back(said);
    }
    return lost;
}

} // namespace

std::shared_ptr<const Outcome> outcomeOf(const Session& session, const Analyses& analyses, const Outcome* before) {
    auto outcome = std::make_shared<Outcome>();
    if (session.empty()) {
        outcome->plan = std::make_shared<const Plan>();
        return outcome;
    }
    outcome->takes.resize(session.takes.size());
    forEachIndex(session.takes.size(), [&](std::size_t index) {
        const TakeIndex take{index};
        outcome->takes[take] = analyseTake(session, take, analyses,
                                           before && take < before->takes.size() ? before->takes[take] : nullptr);
    });
    outcome->attacks = std::make_shared<const std::vector<SongFrame>>(
        session.companionLines
            ? companionAttacks(session, analyses, session.companionLines->name, session.companionLines->threshold)
            : std::vector<SongFrame>{});
    const auto orders = ordersOf(session);
    outcome->lays.resize(orders.size());
    forEachIndex(orders.size(), [&](std::size_t i) {
        outcome->lays[i] = layTake(session, outcome->takes[orders[i].where.take], outcome->attacks, orders[i],
                                   before ? std::span(before->lays) : std::span<const KeptLay>{});
    });
    outcome->choice =
        chooseHits(session, [&](const Piece& piece) { return laidFor(session, outcome->lays, piece); });
    collectHits(*outcome);
    for (TakeIndex take; take < session.takes.size(); ++take)
        if (session.sounds(take)) {
            const auto& lost = outcome->takes[take]->found.lost;
            outcome->lost.insert(outcome->lost.end(), lost.begin(), lost.end());
        }
    Plan plan = planSlices(session, outcome->choice, soundsOf(session, *outcome), analyses.seams());
    PlannedPatches patches = patchesOn(plan, session, *outcome);
    plan.patches = std::move(patches.sounding);
    for (const std::size_t index : patches.lost)
        outcome->lostPatches.push_back(session.patches[index]);
    outcome->plan = std::make_shared<const Plan>(std::move(plan));
    outcome->lostSeams = lostSeams(session, *outcome);
    outcome->warnings =
        warningsOf(session, {outcome->hits, outcome->landings, outcome->lost, outcome->choice.crowded,
                             *outcome->plan, outcome->lostSeams, outcome->lostPatches});
    return outcome;
}

std::shared_ptr<const LaidTake> ownLay(const Session& session, const Outcome& outcome, TakeIndex take,
                                       SongFrame place) {
    const auto shift = ownShift(session, take, place);
    return shift ? laidFor(session, outcome.lays, {{place, place}, take, *shift, 0}) : nullptr;
}

std::shared_ptr<const Plan> recordedPlan(const Session& session, TakeIndex take) {
    Session alone = session;
    alone.comp = {{Passage{SongFrame{0}, take, {}}}, {}};
    const auto choice = chooseHits(alone, [](const Piece& piece) {
        LaidTake unheard{{*piece.take, piece.shift}, piece.range, {}, {}};
        return std::make_shared<const LaidTake>(std::move(unheard));
    });
    return std::make_shared<const Plan>(planSlices(alone, choice));
}

std::shared_ptr<const Plan> rawPlan(const Session& session, const Outcome& outcome) {
    Session raw = session;
    raw.seams.fill = Fill::open;
    raw.seams.fade = shortestFade;
    raw.seamsByHand.clear();
    for (Section& section : raw.sections)
        section.fill.reset();
    return std::make_shared<const Plan>(planSlices(raw, outcome.choice));
}

std::shared_ptr<const Plan> ruledPlan(const Session& session, const Outcome& outcome) {
    Session bare = session;
    bare.seamsByHand.clear();
    Plan plan = planSlices(bare, outcome.choice, soundsOf(session, outcome));
    plan.patches = patchesOn(plan, session, outcome).sounding;
    return std::make_shared<const Plan>(std::move(plan));
}

std::shared_ptr<const Plan> playedPlan(const Session& session, const Outcome& outcome) {
    std::map<std::shared_ptr<const LaidTake>, std::shared_ptr<const LaidTake>> unmoved;
    const auto choice = chooseHits(session, [&](const Piece& piece) -> std::shared_ptr<const LaidTake> {
        const auto laid = laidFor(session, outcome.lays, piece);
        auto& known = unmoved[laid];
        if (laid && !known) {
            LaidTake played = *laid;
            for (Landing& landing : played.landings)
                landing.at = asResult(landing.played);
            known = std::make_shared<const LaidTake>(std::move(played));
        }
        return known;
    });
    return std::make_shared<const Plan>(planSlices(session, choice));
}

} // namespace lampo
