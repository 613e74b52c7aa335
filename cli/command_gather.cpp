#include "commands.h"
#include "options.h"
#include "project/gather.h"
#include "project/project_file.h"

#include <iostream>

namespace lampo::cli {

void addGather(CLI::App& app, const Progress& progress, int& exitCode) {
    auto* command = app.add_subcommand("gather", "copies a project and all that it needs into one folder");
    auto input = std::make_shared<std::filesystem::path>();
    auto folder = std::make_shared<std::filesystem::path>();
    command->add_option("INPUT", *input, "a .lampo project or a folder of mic files (one take)")->required();
    command->add_option("--out", *folder, "a new or empty folder")->required();
    command->callback([input, folder, &progress, &exitCode] {
        exitCode = finish(openInput(*input)
                              .and_then([&](const Session& session) { return gather(session, *folder, progress); })
                              .map([](const std::filesystem::path& project) {
                                  std::cout << "The project is " << project.string() << "\n";
                              }));
    });
}

} // namespace lampo::cli
