#include "base/text.h"
#include "commands.h"
#include "stop_signals.h"

#include <csignal>
#include <filesystem>
#include <iostream>
#include <new>

namespace {

/// Of what no reader or writer could answer for.
std::string sentenceOf(const std::exception& error) {
    std::error_code gone;
    if (std::filesystem::current_path(gone).empty())
        return "The folder that it was started in is gone: start it in another one";
    if (dynamic_cast<const std::bad_alloc*>(&error) != nullptr)
        return "There is not enough memory for this";
    return lampo::visible(error.what());
}

} // namespace

// NOLINTNEXTLINE(bugprone-exception-escape): what is thrown outside of parse() is a lack of memory
int main(int argc, char** argv) {
    // What a write cannot do is reported by it, with a sentence, instead of ending the program.
    std::signal(SIGXFSZ, SIG_IGN);
    std::signal(SIGPIPE, SIG_IGN);
    const lampo::cli::StopSignals signals;
    const lampo::Progress progress{{}, signals.token()};

    CLI::App app{"Tightens a drummer's multitrack recording.", "lampo-cli"};
    app.set_version_flag("--version", LAMPO_VERSION);
    app.require_subcommand(1);
    int exitCode = 0;
    lampo::cli::addInfo(app, exitCode);
    lampo::cli::addHits(app, progress, exitCode);
    lampo::cli::addEdit(app, progress, exitCode);
    lampo::cli::addBatch(app, progress, exitCode);
    lampo::cli::addProof(app, progress, exitCode);
    lampo::cli::addGather(app, progress, exitCode);
    lampo::cli::addDemo(app, exitCode);
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        exitCode = app.exit(error) == 0 ? 0 : 2;
    } catch (const std::exception& error) {
        std::cerr << "lampo-cli: " << sentenceOf(error) << '\n';
        exitCode = 1;
    }
    if (signals.received() != 0 && exitCode != 0)
        return 128 + signals.received(); // as shells have it
    if (!std::cout.flush() && exitCode == 0) {
        std::cerr << "lampo-cli: what was to be said could not be written to the standard output\n";
        return 1;
    }
    return exitCode;
}
