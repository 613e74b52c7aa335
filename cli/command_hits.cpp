#include "commands.h"
#include "options.h"

#include <iostream>

namespace lampo::cli {

void addHits(CLI::App& app, int& exitCode) {
    auto* command = app.add_subcommand("hits", "finds the hits and writes them as a report");
    auto options = std::make_shared<Options>();
    addOptions(*command, *options);
    command->get_option("--report")->required();
    command->callback([options, &exitCode] {
        exitCode = finish(prepare(*options).and_then([&](const Prepared& prepared) {
            std::cout << prepared.outcome->hits.size() << " hits\n";
            return writeReport(*options, prepared);
        }));
    });
}

} // namespace lampo::cli
