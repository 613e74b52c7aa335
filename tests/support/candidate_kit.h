#pragma once

#include "edits/edit.h"
#include "hits/hit_finder.h"
#include "import/folder_import.h"
#include "support/given_candidates.h"

#include <memory>
#include <vector>

namespace lampo::test {

/// Kick, snare and a tom whose candidates are given, at 120 BPM and 48 kHz: a sixteenth is 6,000 frames.
struct CandidateKit {
    Session session;
    std::vector<std::shared_ptr<const MicAnalysis>> analyses;

    explicit CandidateKit(std::vector<std::vector<Candidate>> perMic) {
        session.mics = kitOf({"kick", "snare", "tom 1"});
        session.takes = {{'A', "/A", {"/A/kick.wav", "/A/snare.wav", "/A/tom 1.wav"}, {}, FrameCount{48000 * 60}}};
        for (auto& candidates : perMic)
            analyses.push_back(heardAs(std::move(candidates)));
    }
    TakeStrokes strokes() const { return findStrokes(session, analyses); }
    FoundHits find() const { return findHits(session, session.take(), strokes()); }
    void edit(const Edit& change) { session = *edited(session, change); }
    void correct(Correction correction) { edit(Correct{std::move(correction)}); }
};

inline Candidate stroke(std::int64_t at, double level = 0) {
    return {SourceFrame{at}, {level}, {20}, {}, {}};
}

} // namespace lampo::test
