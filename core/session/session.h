#pragma once

#include "map/map_data.h"
#include "map/section.h"
#include "session/correction.h"
#include "session/role.h"
#include "session/settings.h"

#include <filesystem>
#include <string>
#include <vector>

namespace lampo {

/// One microphone of the kit, in every take. Its place in Session::mics is its rank: of guides that hear a hit
/// together, the first gives the anchor.
struct Mic {
    std::string stem; ///< file name without ending: the mic's identity, unique in the session
    Role role = Role::other;
    bool guide = false;
    Decibels threshold{-20};      ///< relative to the mic's typical strong hit, −60 to 0
    Milliseconds shortestGap{40}; ///< 10 to 500: candidates nearer than this are one
    Decibels level{0};            ///< for listening only, −60 to +12
    bool mute = false;
    bool solo = false;
    bool operator==(const Mic&) const = default;
};

/// One performance: a file for each mic, all starting together.
struct Take {
    char letter = 'A';
    std::filesystem::path folder;
    std::vector<std::filesystem::path> files; ///< one per mic of the session, empty where the take lacks it
    FrameCount start;                         ///< song position of the files' first frame
    FrameCount length;                        ///< frames of every file
    bool operator==(const Take&) const = default;
};

/// Beside the kit: listened to, looked at, never cut.
struct Companion {
    std::string name;
    std::filesystem::path file;
    Decibels level{-6};
    bool mute = false;
    bool operator==(const Companion&) const = default;
};

/// The whole of what the user decided, and nothing that can be computed. A plain value: edits make a new one.
struct Session {
    std::string title;
    SampleRate rate;
    std::vector<Mic> mics;
    std::vector<Take> takes;
    std::vector<Companion> companions;
    std::size_t sounding = 0; ///< which take sounds
    MapData map;
    std::vector<Section> sections; ///< sorted, not overlapping
    TimingSettings timing;
    SeamSettings seams;
    ClusterSettings clusters;
    std::vector<Correction> corrections;

    bool operator==(const Session&) const = default;

    bool empty() const { return takes.empty(); }
    const Take& take() const { return takes[sounding]; }
    const Section* sectionOf(int bar) const;
    NoteValue gridOf(int bar) const;
    /// Per cent.
    double strengthOf(int bar) const;
    /// Index into mics, or mics.size().
    std::size_t micNamed(const std::string& stem) const;
    /// Frames from song zero to the end of the sounding take; also the length of the result.
    FrameCount length() const;
};

} // namespace lampo
