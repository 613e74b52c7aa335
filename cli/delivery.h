#pragma once

#include "deliver/hits_midi.h"
#include "deliver/print.h"
#include "options.h"

namespace lampo::cli {

/// What `edit` and `batch` write besides, as typed.
struct Delivery {
    std::filesystem::path out;
    std::string format = "wav24";
    std::optional<std::string> bits;
    std::optional<int> rate;
    std::optional<std::string> dither;
    std::string names = "{mic}";
    std::optional<std::string> bars;
    std::vector<std::string> mics;
    bool oneFile = false, companions = false, click = false, markers = false, about = false;
    std::string existing{earlierNames.of(Earlier::replace)};
    std::filesystem::path mix;
    std::filesystem::path midi;
    std::string midiAs{midiAsNames.of(MidiAs::landed)};
    std::filesystem::path interchange;
    std::filesystem::path csv;
};

/// Adds --out and all of the above; values that cannot be right are refused as wrong usage.
void addDelivery(CLI::App& command, Delivery& delivery);

/// What was written.
struct Delivered {
    std::size_t hits = 0;
    std::size_t seams = 0;
    std::size_t files = 0;               ///< of sound
    std::size_t openPlaces = 0;          ///< of the proof; 0 where nobody listened
    std::optional<ProofSummary> proof{}; ///< there where it was listened: for a report
};

/// Writes all that is asked for, together: all of it or nothing. Errors: badValue (bars outside the song, a mic
/// that is not there), those of print and proofOf.
Expected<Delivered> deliver(const Options& options, const Prepared& prepared, const Delivery& delivery,
                            const Progress& progress);

} // namespace lampo::cli
