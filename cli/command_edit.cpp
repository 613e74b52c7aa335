#include "base/text.h"
#include "commands.h"
#include "delivery.h"

#include <iostream>

namespace lampo::cli {

void addEdit(CLI::App& app, const Progress& progress, int& exitCode) {
    auto* command = app.add_subcommand("edit", "brings the hits to the grid and prints every mic");
    auto options = std::make_shared<Options>();
    auto delivery = std::make_shared<Delivery>();
    addOptions(*command, *options);
    addDelivery(*command, *delivery);
    command->callback([options, delivery, &progress, &exitCode] {
        exitCode = finish(prepare(*options, progress).and_then([&](const Prepared& prepared) {
            return deliver(*options, prepared, *delivery, progress).map([](const Delivered& done) {
                std::cout << counted(static_cast<std::int64_t>(done.hits), "hit") << ", "
                          << counted(static_cast<std::int64_t>(done.seams), "seam") << ", "
                          << counted(static_cast<std::int64_t>(done.files), "file") << "\n";
            });
        }));
    });
}

} // namespace lampo::cli
