#pragma once

#include "base/error.h"
#include "base/progress.h"
#include "onsets/candidate.h"
#include "session/session.h"

#include <filesystem>
#include <map>
#include <memory>
#include <vector>

namespace lampo {

/// The candidates of every mic that was listened to so far, by file and by what was listened for. A value: copies
/// share the analyses, which never change.
class Analyses {
public:
    using Key = std::pair<std::filesystem::path, Role>;

    /// Null where there is none.
    std::shared_ptr<const MicAnalysis> of(const std::filesystem::path& file, Role role) const;
    void add(const Key& key, std::shared_ptr<const MicAnalysis> analysis);

    /// Takes over all that `others` know.
    void merge(const Analyses& others);

    /// What the session's sounding take wants and is not there.
    std::vector<Key> missing(const Session& session) const;

private:
    std::map<Key, std::shared_ptr<const MicAnalysis>> known_;
};

/// Listens to all that is missing, on all cores. Errors: those of findOnsets; what was finished before is kept.
Expected<void> analyseMissing(const Session& session, Analyses& analyses, const Progress& progress);

} // namespace lampo
