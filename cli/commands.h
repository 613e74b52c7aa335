#pragma once

#include <CLI/CLI.hpp>

namespace lampo::cli {

/// Each adds its subcommand; when that is the one that was typed, `exitCode` is set by running it.
void addInfo(CLI::App& app, int& exitCode);
void addHits(CLI::App& app, int& exitCode);
void addEdit(CLI::App& app, int& exitCode);
void addDemo(CLI::App& app, int& exitCode);

} // namespace lampo::cli
