#include "chain/analyses.h"

#include "base/parallel.h"
#include "hits/detection.h"

#include <mutex>
#include <optional>

namespace lampo {

std::shared_ptr<const MicAnalysis> Analyses::of(const std::filesystem::path& file, Role role) const {
    const auto found = known_.find({file, role});
    return found == known_.end() ? nullptr : found->second;
}

void Analyses::add(const Key& key, std::shared_ptr<const MicAnalysis> analysis) {
    known_[key] = std::move(analysis);
}

void Analyses::merge(const Analyses& others) {
    known_.insert(others.known_.begin(), others.known_.end());
}

std::vector<Analyses::Key> Analyses::missing(const Session& session) const {
    std::vector<Key> keys;
    if (session.empty())
        return keys;
    for (std::size_t mic = 0; mic < session.mics.size(); ++mic) {
        const auto& file = session.take().files[mic];
        if (session.mics[mic].guide && !file.empty() && !of(file, session.mics[mic].role))
            keys.emplace_back(file, session.mics[mic].role);
    }
    return keys;
}

Expected<void> analyseMissing(const Session& session, Analyses& analyses, const Progress& progress) {
    const auto keys = analyses.missing(session);
    std::mutex guard;
    std::optional<Error> error;
    std::vector<double> fractions(keys.size());
    const auto reportAs = [&](std::size_t job, double fraction) {
        const std::scoped_lock lock(guard);
        fractions[job] = fraction;
        double sum = 0;
        for (const double part : fractions)
            sum += part;
        progress.at(sum / static_cast<double>(fractions.size()));
    };
    forEachIndex(keys.size(), [&](std::size_t job) {
        const Progress own{[&, job](double fraction) { reportAs(job, fraction); }, progress.stop};
        auto found = AudioReader::open(keys[job].first).and_then([&](AudioReader reader) {
            return findOnsets(reader, onsetSettings(keys[job].second), own);
        });
        const std::scoped_lock lock(guard);
        if (found)
            analyses.add(keys[job], std::make_shared<const MicAnalysis>(std::move(*found)));
        else if (!error)
            error = found.error();
    });
    return error ? Expected<void>(tl::unexpected(*error)) : Expected<void>{};
}

} // namespace lampo
