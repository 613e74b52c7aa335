#include "base/text.h"
#include "commands.h"
#include "deliver/print.h"
#include "deliver/proof_report.h"
#include "options.h"

#include <algorithm>
#include <iostream>

namespace lampo::cli {
namespace {

constexpr int placesAreOpen = 3; ///< exit code

/// Whether a place of one of these kinds is open.
bool anyOpen(const Proof& proof, const std::vector<std::string>& kinds) {
    return std::any_of(proof.places.begin(), proof.places.end(), [&](const ProofPlace& place) {
        return place.state == ProofState::open &&
               std::find(kinds.begin(), kinds.end(), proofKindNames.of(place.kind)) != kinds.end();
    });
}

} // namespace

void addProof(CLI::App& app, const Progress& progress, int& exitCode) {
    auto* command = app.add_subcommand("proof", "listens to the result and reports the places that want an ear");
    auto options = std::make_shared<Options>();
    auto folder = std::make_shared<std::filesystem::path>();
    auto kinds = std::make_shared<std::vector<std::string>>();
    addOptions(*command, *options);
    command->get_option("--report")->required();
    command->add_option("--print", *folder, "a folder with a print of this edit: listen to it instead");
    command->add_option("--fail-on", *kinds, "kinds of places; when one of them is open, the exit code is 3")
        ->delimiter(',')
        ->allow_extra_args(false)
        ->check(CLI::IsMember(std::vector<std::string>(proofKindNames.words.begin(), proofKindNames.words.end())));
    command->callback([options, folder, kinds, &progress, &exitCode] {
        bool open = false;
        exitCode = finish(prepare(*options, progress).and_then([&](const Prepared& prepared) {
            ProofMemory memory;
            return (folder->empty() ? proofOf(prepared.session, *prepared.outcome, memory, progress)
                                    : proofOfPrint(prepared.session, *prepared.outcome, *folder, progress))
                .and_then([&](const Proof& proof) {
                    open = anyOpen(proof, *kinds);
                    std::cout << counted(std::count_if(proof.places.begin(), proof.places.end(),
                                                       [](const ProofPlace& place) {
                                                           return place.state == ProofState::open;
                                                       }),
                                         "open place")
                              << "\n";
                    return writeText(prepared.session, {options->report, proofReport(prepared.session, proof)},
                                     inputFiles(*options));
                });
        }));
        if (exitCode == 0 && open)
            exitCode = placesAreOpen;
    });
}

} // namespace lampo::cli
