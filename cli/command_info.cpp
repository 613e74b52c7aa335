#include "base/text.h"
#include "commands.h"
#include "options.h"

#include <fmt/core.h>
#include <iostream>

namespace lampo::cli {
namespace {

void printInfo(const Session& session) {
    const auto seconds = [&](FrameCount length) {
        return fmt::format("{} s", trimmedNumber(toSeconds(length, session.rate).value));
    };
    std::cout << session.title << ": " << counted(session.mics.size(), "mic") << ", " << session.rate.hz << " Hz, "
              << seconds(session.length()) << '\n';
    for (const Take& take : session.takes)
        std::cout << "take " << take.letter.value << "  " << seconds(take.length) << "  " << take.folder.string()
                  << '\n';
    for (const Mic& mic : session.mics)
        std::cout << "mic  " << mic.stem << "  " << name(mic.role) << (mic.guide ? "  guide" : "")
                  << (mic.group.empty() ? "" : "  of " + mic.group) << '\n';
    for (const Companion& companion : session.companions)
        std::cout << "companion  " << companion.name << '\n';
}

} // namespace

void addInfo(CLI::App& app, int& exitCode) {
    auto* command = app.add_subcommand("info", "what a folder or a project holds");
    auto input = std::make_shared<std::filesystem::path>();
    command->add_option("INPUT", *input, "a .lampo project or a folder of mic files (one take)")->required();
    auto mend = std::make_shared<bool>(false);
    addMend(*command, *mend);
    command->callback([input, mend, &exitCode] {
        exitCode = finish(openMended(*input, *mend).map([](const Session& session) { printInfo(session); }));
    });
}

} // namespace lampo::cli
