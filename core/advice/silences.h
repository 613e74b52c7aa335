#pragma once

#include "edits/edit.h"
#include "pipeline/outcome.h"
#include "render/kit_reader.h"

namespace lampo {

/// These mics silent in the sound of the song's stretch, take by take. Errors: badValue where the stretch is empty
/// or nothing sounds in it, or no mic is named.
Expected<AddPatches> silenced(const Session& session, const Outcome& outcome, Range<ResultFrame> stretch,
                              const std::vector<std::string>& mics);

/// The mics of toms silent, in every take that sounds, wherever no stroke of theirs rings: from a second behind one
/// to 20 ms before the next. What is loud in one and no other drum explains keeps it open as well. Errors: badValue
/// where there is no tom mic.
Expected<AddPatches> tomsSilenced(const Session& session, const Outcome& outcome);

/// Indices in Session::patches of those that silence tom mics beside their strokes.
std::vector<std::size_t> tomSilences(const Session& session);

/// What silences take away from one mic.
struct TakenAway {
    std::string mic;        ///< its stem
    FrameCount length{};    ///< of all of them
    Decibels mean{-200};    ///< root of the mean square there, against full scale
    Decibels loudest{-200}; ///< that of the loudest 50 ms
};
/// Mic by mic, in the kit's order, of those patches that silence. Reads all they silence: seconds for a long song.
/// Errors: those of AudioReader; cancelled.
Expected<std::vector<TakenAway>> takenAway(const Session& session, KitReader& kit,
                                           const std::vector<Patch>& patches);

} // namespace lampo
