#include "edits/sample_edits.h"

#include "base/text.h"
#include "edits/overloaded.h"
#include "session/refusals.h"

#include <algorithm>
#include <fmt/core.h>

namespace lampo {
namespace {

Expected<void> noSample() {
    return refuse("There is no such sample");
}

Expected<void> say(const SaySampleHits& edit, Session& session) {
    if (edit.index >= session.samples.size())
        return noSample();
    if (edit.said.empty())
        return refuse("Choose hits of the sample's drum first");
    DrumSample& sample = session.samples[edit.index];
    for (const SampleHit& hit : edit.said) {
        while (const SampleHit* before = saidAbout(sample, hit.at, session.rate))
            sample.said.erase(sample.said.begin() + (before - sample.said.data()));
        if (hit.out || hit.level)
            sample.said.push_back(hit);
    }
    return {};
}

std::string nameOf(const Session& session, std::size_t index) {
    return index < session.samples.size() ? visible(session.samples[index].name) : std::string("it");
}

} // namespace

Expected<void> apply(const SampleEdit& edit, Session& session) {
    return std::visit(Overloaded{[&](const PutSample& e) -> Expected<void> {
                                     if (e.index && *e.index >= session.samples.size())
                                         return noSample();
                                     if (e.index)
                                         session.samples[*e.index] = e.sample;
                                     else
                                         session.samples.push_back(e.sample);
                                     return {};
                                 },
                                 [&](const DeleteSample& e) -> Expected<void> {
                                     if (e.index >= session.samples.size())
                                         return noSample();
                                     session.samples.erase(session.samples.begin() +
                                                           static_cast<std::ptrdiff_t>(e.index));
                                     return {};
                                 },
                                 [&](const SaySampleHits& e) { return say(e, session); }},
                      edit);
}

std::string describe(const Session& session, const SampleEdit& edit) {
    return std::visit(
        Overloaded{[](const PutSample& e) {
                       return e.what.empty() ? fmt::format("Sample {}", visible(e.sample.name)) : e.what;
                   },
                   [&](const DeleteSample& e) { return fmt::format("Delete sample {}", nameOf(session, e.index)); },
                   [&](const SaySampleHits& e) {
                       const bool out = !e.said.empty() && e.said.front().out;
                       return fmt::format("{} {} of {}", counted(std::ssize(e.said), "hit"),
                                          out ? "left out" : "set", nameOf(session, e.index));
                   }},
        edit);
}

} // namespace lampo
