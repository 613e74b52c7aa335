#pragma once

#include "base/error.h"
#include "edits/detection_edits.h"
#include "edits/feel_edits.h"
#include "edits/hand_edits.h"
#include "edits/kit_edits.h"
#include "edits/midi_edits.h"
#include "edits/patch_edits.h"
#include "edits/proof_edits.h"
#include "edits/sample_edits.h"
#include "edits/seam_edits.h"
#include "edits/take_edits.h"
#include "edits/timing_edits.h"

#include <memory>
#include <string>
#include <variant>

namespace lampo {

/// Takes the place of the whole session: material was brought in, or it is as it was once.
struct BringIn {
    std::shared_ptr<const Session> session; ///< the session with what was brought in
    std::string what = "Bring in files";    ///< for the history
};

/// Everything that changes a session, by what it is about.
using Edit = std::variant<BringIn, KitEdit, DetectionEdit, TimingEdit, HandEdit, FeelEdit, SeamEdit, PatchEdit,
                          ProofEdit, MidiEdit, SampleEdit, TakeEdit>;

/// The session after the edit; the one given is not touched. Errors: badValue (a value out of its range, an index
/// that does not exist), with a sentence that names the range.
Expected<Session> edited(const Session& session, const Edit& edit);

/// For menus and the history: "Strength 80 %", "Threshold of snare_top −24 dB".
std::string describe(const Session& session, const Edit& edit);

} // namespace lampo
