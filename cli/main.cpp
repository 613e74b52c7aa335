#include "commands.h"

#include <csignal>

int main(int argc, char** argv) {
    // A file that grows too large is reported by write(), with a sentence, instead of ending the program.
    std::signal(SIGXFSZ, SIG_IGN);

    CLI::App app{"Tightens a drummer's multitrack recording.", "lampo-cli"};
    app.set_version_flag("--version", LAMPO_VERSION);
    app.require_subcommand(1);
    int exitCode = 0;
    lampo::cli::addInfo(app, exitCode);
    lampo::cli::addHits(app, exitCode);
    lampo::cli::addEdit(app, exitCode);
    lampo::cli::addDemo(app, exitCode);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? 0 : 2;
    }
    return exitCode;
}
