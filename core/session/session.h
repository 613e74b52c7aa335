#pragma once

#include "audio/source_file.h"
#include "base/shared_list.h"
#include "map/feel.h"
#include "map/musical_map.h"
#include "session/by_hand.h"
#include "session/comp.h"
#include "session/correction.h"
#include "session/drum_sample.h"
#include "session/midi_settings.h"
#include "session/patch.h"
#include "session/proof_answer.h"
#include "session/role.h"
#include "session/seam_by_hand.h"
#include "session/section.h"
#include "session/settings.h"
#include "session/version.h"

#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// One microphone of the kit, in every take. Its place in Session::mics is its rank: of guides that hear a hit
/// together, the first gives the anchor.
struct Mic {
    std::string stem;        ///< its identity, unique in the session: the file's name without ending and take
    std::string label{};     ///< what it is called; empty: the stem
    Role role = Role::other; ///< the drum it stands at, or what it hears
    bool guide = false;      ///< hits are found in it
    std::string group{};     ///< mics of one drum, or halves of one file, bear one name; empty: it stands alone
    bool linked = false;     ///< level, mute and solo are set on all linked mics of the group
    Decibels threshold{limits::threshold.defaultValue};         ///< relative to the mic's typical strong hit
    Milliseconds shortestGap{limits::shortestGap.defaultValue}; ///< candidates nearer than this are one
    bool judgesBleed = true;                                    ///< what the other drums explain is not a hit
    std::optional<BandWeights> emphasis{};                      ///< set by hand; otherwise that of the role
    Decibels level{limits::level.defaultValue};                 ///< of playback only
    bool mute = false;                                          ///< in playback
    bool solo = false;                                          ///< in playback
    bool operator==(const Mic&) const = default;
    /// What people call it.
    const std::string& shownName() const { return label.empty() ? stem : label; }
};

/// From where on strokes of a role's drum count in a kit of these mics: a snare's ghost notes lie 18 to 28 dB under
/// its backbeat (common practice, no source), but are told from hats only where a hat's mic or an overhead hears
/// those.
Decibels defaultThreshold(const std::vector<Mic>& mics, Role role);

/// One performance: a file for each mic, all on one time axis.
struct Take {
    TakeLetter letter;            ///< no other take's
    std::filesystem::path folder; ///< it was brought in from
    SharedList<SourceFile> files; ///< one per mic of the session, empty where the take lacks it
    FrameCount start;             ///< where its first frame lies on the click's time
    FrameCount length;            ///< to the end of its longest file; shorter ones are followed by silence
    std::string note{};           ///< the user's words about it
    std::optional<int> tint{};    ///< which of the tints, 0 to takeTints − 1; none: by its place among the takes
    bool operator==(const Take&) const = default;

    /// Where it lies in the song as it was recorded: before the form.
    SourceToSong shift() const { return SourceToSong{start}; }
};

/// Beside the kit: played and looked at, never cut.
struct Companion {
    std::string name;   ///< no other companion's
    SourceFile file;    ///< its offset is a place on the click's time; it goes through the form as takes do
    Decibels level{-6}; ///< of playback only
    bool mute = false;  ///< in playback
    bool operator==(const Companion&) const = default;
};

/// Where a section lies.
Range<SongFrame> rangeOf(const Section& section, const MusicalMap& map);

inline constexpr int takeTints = 12;

/// What the user thinks of one bar of one take.
struct Rating {
    TakeLetter take; ///< whose bar it is
    int bar = 1;     ///< of the map
    int marks = 1;   ///< 1 to 3, the more the better
    bool operator==(const Rating&) const = default;
};
inline constexpr int maxMarks = 3;

/// A way to fill a stretch of the song that is kept to be compared with others.
struct Try {
    Range<SongFrame> range;        ///< that it fills
    std::vector<Passage> passages; ///< the first begins at range.begin
    bool operator==(const Try&) const = default;
};

/// The whole of what the user decided, and nothing that can be computed. A plain value: edits make a new one.
struct Session {
    std::string title;                       ///< of the song
    SampleRate rate;                         ///< that everything is brought to
    std::vector<Mic> mics;                   ///< in order of rank, at most limits::mics
    std::vector<Take> takes;                 ///< in order of their letters' coming, at most 26
    std::vector<Companion> companions;       ///< in the order of their lanes
    Comp comp;                               ///< which take sounds where
    Form form{FormPart{}};                   ///< never empty
    std::vector<Rating> ratings{};           ///< sorted by bar, then by take
    std::vector<Try> tries{};                ///< in the order they were kept
    MapData map;                             ///< tempos, meters, bar 1
    std::vector<Section> sections;           ///< sorted by comesBefore, not overlapping
    TimingSettings timing;                   ///< of the song
    Assign assign = Assign::path;            ///< how hits find their lines
    SeamSettings seams;                      ///< of all seams
    ClusterSettings clusters;                ///< which strokes are one hit
    std::optional<Finest> finest;            ///< where no section sets its own
    SharedList<Correction> corrections;      ///< in the order they were made
    std::vector<Phrase> phrases{};           ///< by take and place; those of one take share no hit
    std::vector<PassageMove> shoves{};       ///< by take and place, not overlapping; before the hits are quantized
    std::vector<PassageMove> slips{};        ///< the same, after they landed
    std::vector<SeamByHand> seamsByHand{};   ///< by take and place
    SharedList<Patch> patches{};             ///< in the order they were made; a later one lies on top
    std::vector<ProofAnswer> proofAnswers{}; ///< in the order they were given, one for a place
    std::vector<Feel> feels{};               ///< kept by name
    MidiSettings midi{};                     ///< how hits become notes
    std::vector<DrumSample> samples{};       ///< in the order they were added
    std::optional<CompanionLines> companionLines{}; ///< none: hits land on the grid alone
    std::vector<Version> versions{};                ///< in the order they were kept

    bool operator==(const Session&) const = default;

    /// Whether nothing was brought in yet.
    bool empty() const { return takes.empty(); }
    /// The take that sounds first: the one to name where only one can be named.
    TakeIndex lead() const;
    /// That one. There must be a take.
    const Take& take() const { return takes[lead()]; }
    /// None when no take has this letter.
    std::optional<TakeIndex> takeLettered(TakeLetter letter) const;
    /// Whether a take sounds anywhere.
    bool sounds(TakeIndex take) const;
    /// 0 where the user said nothing.
    int marksOf(TakeLetter take, int bar) const;
    /// Of whole bars; null where none rules.
    const Section* sectionOf(int bar) const;
    /// What rules a bar: the section's own settings before the song's.
    TimingSettings timingOf(int bar) const;
    /// The same where beats of the bar may be a section of their own.
    TimingSettings timingAt(BarBeat place) const;
    /// What rules in a section where it begins.
    TimingSettings timingIn(const Section& section) const;
    /// What rules in a section about seams.
    SeamSettings seamsIn(const Section& section) const;
    /// Null where any note counts.
    const Finest* finestOf(int bar) const;
    /// One of the feels that were kept, or null.
    const Feel* feelNamed(const std::string& name) const;
    /// Whether a feel bends lines anywhere.
    bool usesFeel() const;
    /// By its stem.
    std::optional<MicIndex> micNamed(const std::string& stem) const;
    /// Frames from song zero to the end of what sounds last; also the length of the result.
    FrameCount length() const;
    /// To the end of the longest take, when it is longer.
    FrameCount extent() const;
};

} // namespace lampo
