#pragma once

#include "edits/edit.h"
#include "import/folder_import.h"
#include "pipeline/outcome.h"
#include "support/given_candidates.h"

#include <memory>
#include <vector>

namespace lampo::test {

/// A kick and a snare whose candidates are given, at 120 BPM: a sixteenth is 6,000 frames. Its files are not there:
/// for what needs no sound.
struct GivenSong {
    Session session;
    Analyses analyses;

    explicit GivenSong(std::vector<Candidate> kicks, std::vector<Candidate> snares = {},
                       FrameCount length = FrameCount{960000}) {
        session.mics = kitOf({"kick", "snare"});
        session.takes = {{'A', "/A", {"/A/kick.wav", "/A/snare.wav"}, {}, length}};
        analyses.add(analysisKey(session, session.take(), {0}), heardAs(std::move(kicks)));
        analyses.add(analysisKey(session, session.take(), {1}), heardAs(std::move(snares)));
    }
    std::shared_ptr<const Outcome> outcome() const { return outcomeOf(session, analyses); }
    void edit(const Edit& change) { session = *edited(session, change); }
};

/// A strong one.
inline Candidate givenStroke(std::int64_t at) {
    return {SourceFrame{at}, {0}, {20}, {}, {}};
}

} // namespace lampo::test
