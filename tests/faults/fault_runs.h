#pragma once

#include "support/program.h"
#include "support/temp_folder.h"

#include <cstdlib>

namespace lampo::test {

/// Runs a program with one of its calls struck (faults.cpp): fail:7, kill:7 or tear:7.
inline Run runStruck(const char* program, const QStringList& arguments, const QString& fault) {
    return runProgram(
        program, arguments,
        {"LD_PRELOAD=" LAMPO_FAULTS, "LAMPO_FAULT=" + fault, "ASAN_OPTIONS=verify_asan_link_order=0"});
}

/// How many calls with which something is written a program makes; none where it fails.
inline int callsOf(const char* program, const QStringList& arguments) {
    const TempFolder folder;
    const auto file = folder / "count";
    if (runStruck(program, arguments, "count:" + text(file)).code != 0)
        return 0;
    return std::atoi(readBytes(file).c_str());
}

} // namespace lampo::test
