#pragma once

#include "map/note_value.h"
#include "session/settings.h"

#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// How one guide is listened to inside one section; what is not set here follows the guide's own settings.
struct SectionListening {
    std::string mic; ///< its stem
    std::optional<Decibels> threshold;
    std::optional<Milliseconds> shortestGap;
    std::optional<bool> judgesBleed;

    bool operator==(const SectionListening&) const = default;
    bool empty() const { return !threshold && !shortestGap && !judgesBleed; }
};

/// A named run of whole bars. What it does not set itself follows the song.
struct Section {
    std::string name;
    int firstBar = 1;
    int bars = 1;
    std::optional<NoteValue> grid;
    std::optional<double> strength; ///< per cent, 0 to 100
    std::optional<Finest> finest{};
    std::vector<SectionListening> listening{}; ///< at most one for each mic
    std::optional<double> swing{};
    std::optional<Milliseconds> pocket{};
    std::optional<Pull> pull{};
    std::optional<Reach> reach{};
    std::optional<Goings> goings{};

    bool operator==(const Section&) const = default;
    bool holds(int bar) const { return firstBar <= bar && bar < firstBar + bars; }
    const SectionListening* listeningOf(const std::string& mic) const;
};

/// The sections with one more; those in its way are cut short or in two (the second part keeps the name).
std::vector<Section> withSection(const std::vector<Section>& sections, const Section& added);

} // namespace lampo
