#include "commands.h"
#include "demo_kit/demo_recording.h"
#include "options.h"

namespace lampo::cli {

void addDemo(CLI::App& app, int& exitCode) {
    auto* command = app.add_subcommand("demo", "writes the demo recording and its project");
    auto folder = std::make_shared<std::filesystem::path>();
    command->add_option("DIR", *folder, "made when it is missing")->required();
    command->callback([folder, &exitCode] { exitCode = finish(demo::writeDemo(*folder)); });
}

} // namespace lampo::cli
