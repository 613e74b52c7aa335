#include "base/text.h"
#include "commands.h"
#include "deliver/print.h"
#include "options.h"
#include "proof/proof.h"

#include <iostream>

namespace lampo::cli {

void addEdit(CLI::App& app, const Progress& progress, int& exitCode) {
    auto* command = app.add_subcommand("edit", "brings the hits to the grid and prints every mic");
    auto options = std::make_shared<Options>();
    auto settings = std::make_shared<PrintSettings>();
    auto format = std::make_shared<std::string>("wav24");
    addOptions(*command, *options);
    command->add_option("--out", settings->folder, "folder for the printed files")->required();
    std::vector<std::string> names;
    for (const SampleFormat each : allSampleFormats)
        names.emplace_back(name(each));
    command->add_option("--format", *format, "what the files are written as")
        ->check(CLI::IsMember(names))
        ->capture_default_str();
    command->callback([options, settings, format, &progress, &exitCode] {
        settings->format = *sampleFormatNames.named(*format);
        settings->protectedFiles = inputFiles(*options);
        exitCode = finish(prepare(*options, progress).and_then([&](const Prepared& prepared) -> Expected<void> {
            if (!options->report.empty()) {
                ProofMemory nothingHeard;
                const auto proof = proofOf(prepared.session, *prepared.outcome, nothingHeard, progress);
                if (!proof)
                    return tl::unexpected(proof.error());
                settings->texts = {reportOf(*options, prepared, &proof->summary)};
            }
            return print(prepared.session, prepared.outcome->plan, *settings, progress).map([&] {
                std::cout << counted(prepared.outcome->hits.size(), "hit") << ", "
                          << counted(prepared.outcome->plan->seams.size(), "seam") << ", "
                          << counted(prepared.session.mics.size(), "file") << "\n";
            });
        }));
    });
}

} // namespace lampo::cli
