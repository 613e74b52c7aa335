#include "proof/proof.h"

#include "proof/differences_heard.h"
#include "proof/patch_phase.h"
#include "proof/plan_places.h"
#include "proof/stroke_places.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

/// A part of the progress of a whole.
Progress part(const Progress& whole, double from, double to) {
    return {[&whole, from, to](double fraction) { whole.at(from + (to - from) * fraction); }, whole.stop};
}

void append(std::vector<ProofPlace>& all, std::vector<ProofPlace> more) {
    all.insert(all.end(), std::make_move_iterator(more.begin()), std::make_move_iterator(more.end()));
}

/// The same thing of the same place told twice, by the plan and by ear, is told by the worse.
void dropRepeated(std::vector<ProofPlace>& places) {
    std::stable_sort(places.begin(), places.end(), [](const ProofPlace& a, const ProofPlace& b) {
        return a.kind != b.kind ? a.kind < b.kind : a.where.begin < b.where.begin;
    });
    const auto isSame = [](const ProofPlace& a, const ProofPlace& b) {
        return a.kind == b.kind && a.hit && a.hit == b.hit;
    };
    std::vector<ProofPlace> kept;
    for (ProofPlace& place : places)
        if (kept.empty() || !isSame(kept.back(), place))
            kept.push_back(std::move(place));
        else if (place.size > kept.back().size)
            kept.back() = std::move(place);
    places = std::move(kept);
}

/// Where the print is not what the edit has, that is what is wrong, not its joint.
void dropExplained(std::vector<ProofPlace>& places, const std::vector<ProofPlace>& differences) {
    std::erase_if(places, [&](const ProofPlace& place) {
        return place.seam && std::any_of(differences.begin(), differences.end(), [&](const ProofPlace& other) {
                   return (place.mics & ~other.mics) == 0 && !place.where.intersected(other.where).empty();
               });
    });
}

class Listening {
public:
    Listening(const Session& session, const Outcome& outcome, const KitSoundMaker& sound, const Progress& progress)
        : session_(session), outcome_(outcome), sound_(sound), progress_(progress) {}

    /// `memory`: null where nothing that was heard before counts.
    Expected<Proof> run(ProofMemory* memory) {
        SilencesHeard silences;
        proof_.places = placesWithoutListening(session_, outcome_);
        return take(placesOfJoints(session_, outcome_, sound_, memory ? &memory->joints : nullptr,
                                   part(progress_, 0, 0.6)))
            .and_then([&] {
                return attacksHeard(session_, outcome_, sound_, memory ? &memory->attacks : nullptr,
                                    part(progress_, 0.6, 0.8));
            })
            .and_then([&](const std::vector<std::optional<Milliseconds>>& heard) -> Expected<void> {
                append(proof_.places, placesOfLooseHits(session_, outcome_, heard));
                proof_.summary = summaryOf(session_, outcome_, heard);
                return {};
            })
            .and_then([&] {
                return strokeLevels(session_, outcome_, sound_, memory ? &memory->levels : nullptr,
                                    part(progress_, 0.8, 0.95));
            })
            .and_then([&](const StrokeLevels& levels) -> Expected<void> {
                append(proof_.places, placesOfLevels(session_, outcome_, levels));
                append(proof_.places, placesOfDropouts(session_, outcome_, levels));
                return {};
            })
            .and_then([&] { return take(placesOfPhase(session_, outcome_, sound_, progress_)); })
            .and_then([&] {
                return take(placesOfSilence(session_, outcome_, memory ? memory->silences : silences, progress_));
            })
            .map([&] {
                progress_.at(1);
                return std::move(proof_);
            });
    }

private:
    Expected<void> take(Expected<std::vector<ProofPlace>> places) {
        return std::move(places).map(
            [&](std::vector<ProofPlace> found) { append(proof_.places, std::move(found)); });
    }

    const Session& session_;
    const Outcome& outcome_;
    const KitSoundMaker& sound_;
    const Progress& progress_;
    Proof proof_;
};

Proof finished(Proof proof, const Session& session) {
    dropRepeated(proof.places);
    answerPlaces(proof.places, session);
    countPlaces(proof.summary, proof.places);
    return proof;
}

KitSoundMaker rendered(const Outcome& outcome) {
    return [&outcome](const std::shared_ptr<KitReader>& kit) -> Expected<std::unique_ptr<KitSound>> {
        return std::make_unique<RenderedSound>(outcome.plan, kit);
    };
}

} // namespace

std::vector<ProofPlace> placesWithoutListening(const Session& session, const Outcome& outcome) {
    std::vector<ProofPlace> places;
    if (session.empty())
        return places;
    append(places, placesOfPlan(session, outcome));
    append(places, placesOfStrokes(session, outcome));
    std::erase_if(places, [](const ProofPlace& place) { return place.gravity() < toldGravity; });
    dropRepeated(places);
    answerPlaces(places, session);
    return places;
}

void answerPlaces(std::vector<ProofPlace>& places, const Session& session) {
    for (ProofPlace& place : places) {
        const auto said =
            std::find_if(session.proofAnswers.begin(), session.proofAnswers.end(), [&](const ProofAnswer& answer) {
                return answer.kind == place.kind && answer.content == place.content;
            });
        const bool answered = said != session.proofAnswers.end();
        place.state = answered ? said->state : ProofState::open;
        place.note = answered ? said->note : std::string();
    }
    std::stable_sort(places.begin(), places.end(), [](const ProofPlace& a, const ProofPlace& b) {
        const double x = a.gravity(), y = b.gravity();
        return x != y ? x > y : a.where.begin < b.where.begin;
    });
}

Expected<Proof> proofOf(const Session& session, const Outcome& outcome, ProofMemory& memory,
                        const Progress& progress) {
    if (session.empty())
        return Proof{};
    return Listening(session, outcome, rendered(outcome), progress).run(&memory).map([&](Proof proof) {
        return finished(std::move(proof), session);
    });
}

Expected<Proof> proofOfPrint(const Session& session, const Outcome& outcome, const std::filesystem::path& folder,
                             const Progress& progress) {
    const KitSoundMaker printed = [&](const std::shared_ptr<KitReader>&) -> Expected<std::unique_ptr<KitSound>> {
        return PrintedSound::open(session, folder);
    };
    const KitSoundMaker asEdited = rendered(outcome);
    const auto whole = wholeMicsOf(session, asEdited, printed);
    if (!whole)
        return tl::unexpected(whole.error());
    const auto count = [&](auto&& is) { return std::count_if(whole->begin(), whole->end(), is); };
    const auto sounding = count([](const WholeMic& mic) { return mic.expectedSounds && mic.sounds; });
    if (sounding > 0 && 2 * count([](const WholeMic& mic) { return mic.alike; }) < sounding)
        return fail(ErrorKind::contentDiffers,
                    fmt::format("What lies in the folder {} is no print of this edit: its mics sound otherwise",
                                quotedName(folder)));
    const KitSoundMaker heard = linedUp(printed, *whole);
    auto differences = placesOfDifferences(session, outcome, *whole, asEdited, heard, part(progress, 0, 0.5));
    if (!differences)
        return tl::unexpected(differences.error());
    const Progress rest = part(progress, 0.5, 1);
    return Listening(session, outcome, heard, rest).run(nullptr).map([&](Proof proof) {
        dropExplained(proof.places, *differences);
        append(proof.places, std::move(*differences));
        return finished(std::move(proof), session);
    });
}

} // namespace lampo
