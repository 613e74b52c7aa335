#include "document/sounding.h"

#include "import/folder_import.h"

namespace lampo {
namespace {

Expected<Sounding> versionOf(const Session& kept, const Analyses& analyses, bool landed) {
    const auto outcome = outcomeOf(kept, analyses);
    return Sounding{kept, landed ? outcome->plan : playedPlan(kept, *outcome)};
}

/// The files of a print, as the song that they are.
Expected<Sounding> printOf(const std::filesystem::path& folder, const Session& session) {
    return importFolder(folder).map([&](Session printed) {
        printed.map = session.map;
        printed.companions = session.companions;
        auto plan = recordedPlan(printed, {});
        return Sounding{std::move(printed), std::move(plan)};
    });
}

} // namespace

Expected<Sounding> soundingOf(const Monitored& what, const Session& session, const Outcome& outcome,
                              const Analyses& analyses, bool landed) {
    const auto gone = fail(ErrorKind::badValue, "What was listened to is no longer there");
    switch (what.kind) {
    case Monitored::Kind::edit:
    case Monitored::Kind::landed:
        return Sounding{session, outcome.plan};
    case Monitored::Kind::played:
        return Sounding{session, playedPlan(session, outcome)};
    case Monitored::Kind::cuts:
        return Sounding{session, rawPlan(session, outcome)};
    case Monitored::Kind::take:
        if (what.index >= session.takes.size())
            return gone;
        return Sounding{session, recordedPlan(session, {what.index})};
    case Monitored::Kind::version:
        if (what.index >= session.versions.size())
            return gone;
        return versionOf(*session.versions[what.index].session, analyses, landed);
    case Monitored::Kind::print:
        if (what.index >= session.versions.size() || session.versions[what.index].print.empty())
            return gone;
        return printOf(session.versions[what.index].print, session);
    }
    return gone;
}

} // namespace lampo
