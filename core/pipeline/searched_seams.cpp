#include "pipeline/searched_seams.h"

#include "seam_search/seam_search.h"

namespace lampo {

Expected<std::shared_ptr<const Outcome>> withSearchedSeams(const Session& session, Analyses& analyses,
                                                           std::shared_ptr<const Outcome> outcome,
                                                           const Progress& progress) {
    if (outcome->plan->open.empty())
        return outcome;
    SeamAnswers found;
    auto searched = searchSeams(session, outcome->plan->open, found, progress);
    analyses.add(found);
    return searched.map([&] { return outcomeOf(session, analyses, outcome.get()); });
}

} // namespace lampo
