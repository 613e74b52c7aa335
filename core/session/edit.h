#pragma once

#include "base/error.h"
#include "session/feel_edits.h"
#include "session/hand_edits.h"
#include "session/take_edits.h"
#include "session/timing_edits.h"

#include <memory>
#include <string>
#include <variant>

namespace lampo {

struct SetTempo {
    Bpm bpm;
};
struct SetMeter {
    Meter meter;
};
struct SetOrigin {
    SongFrame origin;
};
struct SetGrid {
    NoteValue grid;
};
struct SetSectionGrid {
    std::size_t section;
    std::optional<NoteValue> grid;
};
struct SetStrength {
    double percent;
};
struct SetLeadIn {
    Milliseconds time;
};
struct SetFade {
    Milliseconds time;
};
struct SetFill {
    Fill fill;
};
struct SetGuide {
    std::size_t mic;
    bool guide;
};
struct SetThreshold {
    std::size_t mic;
    Decibels level;
};
struct SetShortestGap {
    std::size_t mic;
    Milliseconds gap;
};
struct SetBleedJudging {
    std::size_t mic;
    bool on;
};
/// None: as the mic's role wants it.
struct SetEmphasis {
    std::size_t mic;
    std::optional<BandWeights> weights;
};
/// What one section sets for one guide; nothing set drops it.
struct SetSectionListening {
    std::size_t section;
    SectionListening listening;
};
/// Of a section, or of the song.
struct SetFinest {
    std::optional<std::size_t> section;
    std::optional<Finest> finest;
};
/// Which strokes are one hit, and which of them lands. The window is 0 to 100 ms.
struct SetClusters {
    ClusterSettings clusters;
};
struct SetLabel {
    std::size_t mic;
    std::string label;
};
struct SetGroup {
    std::size_t mic;
    std::string group;
    bool linked;
};
/// Puts files of one take to other places in it: one offset for each mic, none where it stays.
struct SetOffsets {
    std::size_t take;
    std::vector<std::optional<FrameCount>> offsets;
};
/// Order, drums, guides, names, groups and detection settings for mics of the same names; others stay behind them.
struct ArrangeKit {
    std::vector<Mic> mics;
};
/// Takes the place of the whole session: material was brought in, or it is as it was once.
struct BringIn {
    std::shared_ptr<const Session> session;
    std::string what = "Bring in files"; ///< for the history
};
struct SetRole {
    std::size_t mic;
    Role role;
};
struct MoveMic {
    std::size_t from;
    std::size_t to;
};
struct SetMicLevel {
    std::size_t mic;
    Decibels level;
};
struct SetMute {
    std::size_t mic;
    bool mute;
};
struct SetSolo {
    std::size_t mic;
    bool solo;
};
struct MuteCompanion {
    std::size_t companion;
    bool mute;
};
/// Each replaces what was said before about the same aspect of the same place. To remove a hit that was added is to
/// take the addition back.
struct Correct {
    std::vector<Correction> corrections;
    Correct(Correction one) : corrections{std::move(one)} {}
    Correct(std::vector<Correction> several) : corrections(std::move(several)) {}
};
/// Forgets all that was said about these places.
struct DropCorrections {
    std::vector<TakePlace> at;
};

using Edit = std::variant<SetTempo, SetMeter, SetOrigin, SetGrid, SetSectionGrid, SetStrength, SetLeadIn, SetFade,
                          SetFill, SetGuide, SetThreshold, SetShortestGap, SetBleedJudging, SetEmphasis,
                          SetSectionListening, SetFinest, SetClusters, SetLabel, SetGroup, SetOffsets, ArrangeKit,
                          BringIn, SetRole, MoveMic, SetMicLevel, SetMute, SetSolo, MuteCompanion, Correct,
                          DropCorrections, TakeEdit, TimingEdit, HandEdit, FeelEdit>;

/// The session after the edit; the one given is not touched. Errors: badValue (a value out of its range, an index
/// that does not exist), with a sentence that names the range.
Expected<Session> edited(const Session& session, const Edit& edit);

/// For menus and the history: "Strength 80 %", "Threshold of snare_top −24 dB".
std::string describe(const Session& session, const Edit& edit);

} // namespace lampo
