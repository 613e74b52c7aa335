#pragma once

#include "hits/hit.h"
#include "session/session.h"
#include "strokes/stroke_assignment.h"

#include <memory>
#include <span>
#include <vector>

namespace lampo {

/// One stroke of a drum, guide or not.
struct Stroke {
    SourceFrame at;             ///< where its attack begins in its drum's mic
    MicIndex mic;               ///< that mic, index in the session
    Decibels level;             ///< against a typical strong stroke of the drum
    Voice voice = Voice::other; ///< that drum
    bool ownDate = false;       ///< see StrokeVerdict::ownDate
    bool operator==(const Stroke&) const = default;
};

/// Who struck what and when in one take. Depends on nothing that is set in Hits (thresholds, gaps, guides
/// among the close mics, corrections), so it is kept while those change. Vectors have an entry per mic of the
/// session.
struct TakeStrokes {
    /// The candidates as they are known now: dates by their drum's mean stroke, levels by its own strong strokes.
    /// Null where there was no analysis.
    std::vector<std::shared_ptr<const MicAnalysis>> mics;
    std::vector<std::vector<StrokeVerdict>>
        verdicts;                 ///< parallel to the candidates; empty for mics that bear no witness
    std::vector<DrumModel> drums; ///< what is known of the drum that a mic stands at
    Paths paths;                  ///< mics x mics
    std::vector<Stroke> strokes;  ///< of drums that have a mic, in order of time
    /// Where strokes begin, also those that only the overheads hear (crashes, rides), ascending: what no seam
    /// tears.
    std::vector<SourceFrame> starts{};

    /// The mic stands at a drum that is not struck in this take, or cannot be heard.
    bool isIdle(MicIndex mic) const { return drums[mic].isWitness && !drums[mic].played; }
};

/// All that the strokes of a take follow from: the key under which they are kept.
struct StrokesKey {
    /// What of a mic decides who is taken for having struck.
    struct Place {
        Role role;            ///< the drum it stands at
        bool guide;           ///< whether hits are found in it
        std::string group;    ///< mics of one drum
        BandWeights emphasis; ///< the bands it is analysed by
        bool operator==(const Place&) const = default;
    };
    SampleRate rate;                                          ///< of the session
    std::vector<Place> places;                                ///< per mic of the session
    std::vector<std::shared_ptr<const MicAnalysis>> analyses; ///< per mic, null where it was not analysed
    bool operator==(const StrokesKey&) const = default;
};
StrokesKey strokesKeyOf(const Session& session, std::vector<std::shared_ptr<const MicAnalysis>> analyses);

/// Whether a mic tells who struck, once it was analysed.
bool isWitness(const Session& session, MicIndex mic);

std::vector<Witness> witnessesOf(const Session& session,
                                 std::span<const std::shared_ptr<const MicAnalysis>> analyses);

/// Witnesses are all close mics (of a drum's several the guide, or the first), every guide, and the overheads.
/// `analyses` has an entry per mic of the session, null where it was not analysed. Pure.
TakeStrokes findStrokes(const Session& session, std::span<const std::shared_ptr<const MicAnalysis>> analyses);

} // namespace lampo
