#pragma once

#include "base/progress.h"

#include <CLI/CLI.hpp>

namespace lampo::cli {

/// Each adds its subcommand; when that is the one that was typed, `exitCode` is set by running it. `progress` is
/// asked whether to stop, and must outlive the parsing.
void addInfo(CLI::App& app, int& exitCode);
void addHits(CLI::App& app, const Progress& progress, int& exitCode);
void addEdit(CLI::App& app, const Progress& progress, int& exitCode);
void addBatch(CLI::App& app, const Progress& progress, int& exitCode);
void addProof(CLI::App& app, const Progress& progress, int& exitCode);
void addGather(CLI::App& app, const Progress& progress, int& exitCode);
void addDemo(CLI::App& app, int& exitCode);

} // namespace lampo::cli
