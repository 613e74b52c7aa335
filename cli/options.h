#pragma once

#include "audio/sample_format.h"
#include "base/error.h"
#include "base/progress.h"
#include "base/protected_files.h"
#include "deliver/print.h"
#include "pipeline/outcome.h"
#include "proof/summary.h"
#include "session/session.h"

#include <CLI/CLI.hpp>

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace lampo::cli {

/// What `hits` and `edit` take, as typed.
struct Options {
    std::filesystem::path input;
    std::filesystem::path report;
    bool mend = false;
    std::filesystem::path kit;
    std::vector<std::string> takes;
    std::optional<std::string> comp;
    std::vector<std::string> guides;
    std::vector<std::string> thresholds;
    std::optional<double> oneHit; ///< ms
    std::optional<std::string> anchor;
    std::optional<double> shortestGap;
    std::filesystem::path tempoMap;
    std::optional<double> tempo;
    std::optional<std::string> meter;
    std::optional<std::string> origin;
    std::optional<std::string> grid;
    std::optional<double> strength;
    std::optional<double> swing;
    std::optional<double> pocket;
    std::optional<std::string> pull;
    std::optional<double> reach;
    std::optional<std::string> assign;
    std::vector<std::string> land;
    std::filesystem::path feel;
    double feelAmount = 100;
    std::optional<double> leadIn;
    std::optional<double> fade;
    std::optional<std::string> fill;
    std::optional<double> mostStretch;
    std::optional<std::string> curve;
};

/// A check that a word is one of an enumeration's.
template <class Enum, Enum last>
CLI::IsMember isOneOf(const EnumNames<Enum, last>& names) {
    return CLI::IsMember(std::vector<std::string>(names.words.begin(), names.words.end()));
}

/// The project or folder, with every notice about what was mended on stderr.
Expected<Session> openMended(const std::filesystem::path& input, bool mend);
void addMend(CLI::App& command, bool& mend);

/// Adds INPUT and all of the above to a command; values that cannot be right are refused as wrong usage.
void addOptions(CLI::App& command, Options& options);
/// The same without INPUT, takes and comp: what holds for many songs.
void addSettings(CLI::App& command, Options& options);

/// The session after the options, and what follows from it.
struct Prepared {
    Session session;
    Analyses analyses;
    std::shared_ptr<const Outcome> outcome;
};

/// Opens the input, applies the options, checks every sample of every file, listens, and computes the edit.
Expected<Prepared> prepare(const Options& options, const Progress& progress);

/// The report that was asked for; `proof`: what listening found, where it was listened.
PrintedText reportOf(const Options& options, const Prepared& prepared, const ProofSummary* proof = nullptr);
/// The files that the options name: the project, the map, the feel, the kit. Nothing is written over them.
ProtectedFiles inputFiles(const Options& options);

/// Prints the sentence on stderr and gives the exit code: 0 done, 1 failed, 2 wrong usage.
int finish(const Expected<void>& result);

} // namespace lampo::cli
