#include "base/text.h"
#include "commands.h"
#include "deliver/print.h"
#include "options.h"

#include <iostream>

namespace lampo::cli {

void addHits(CLI::App& app, const Progress& progress, int& exitCode) {
    auto* command = app.add_subcommand("hits", "finds the hits and writes them as a report");
    auto options = std::make_shared<Options>();
    addOptions(*command, *options);
    command->get_option("--report")->required();
    command->callback([options, &progress, &exitCode] {
        exitCode = finish(prepare(*options, progress).and_then([&](const Prepared& prepared) {
            return writeText(prepared.session, reportOf(*options, prepared), inputFiles(*options)).map([&] {
                std::cout << counted(prepared.outcome->hits.size(), "hit") << "\n";
            });
        }));
    });
}

} // namespace lampo::cli
