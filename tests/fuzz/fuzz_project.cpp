#include "pipeline/outcome.h"
#include "project/project_json.h"
#include "session/pieces.h"
#include "support/given_candidates.h"

#include <cstdint>
#include <cstdlib>

using namespace lampo;

namespace {

/// A stroke twice a second for half a minute, in every mic in turn, as if the files had been listened to.
Analyses heardIn(const Session& session) {
    Analyses analyses;
    std::int64_t turn = 0;
    for (const AnalysisKey& key : analyses.missing(session, Listen::toEveryMic)) {
        std::vector<Candidate> candidates;
        for (std::int64_t i = 0; i < 60; ++i)
            candidates.push_back({{i * 24000 + turn * 2000}, {0}, {20}, {}, {}});
        analyses.add(key, test::heardAs(std::move(candidates)));
        turn = (turn + 1) % 8;
    }
    return analyses;
}

} // namespace

/// Projects are refused, or read, written and read again to the same session, and tightened as far as a plan.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const auto session = sessionFromText({reinterpret_cast<const char*>(data), size}, "/", "it");
    if (!session)
        return 0;
    piecesOf(*session);
    const auto again = sessionFromText(projectText(*session, "/"), "/", "it");
    if (!again || !(*again == *session))
        std::abort();
    if (!session->empty())
        (void)outcomeOf(*session, heardIn(*session));
    return 0;
}
