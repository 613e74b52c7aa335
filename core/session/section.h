#pragma once

#include "map/note_value.h"
#include "session/settings.h"

#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// How hits are detected in one guide inside one section; what is not set here follows the guide's own settings.
struct SectionDetection {
    std::string mic; ///< its stem
    std::optional<Decibels> threshold;
    std::optional<Milliseconds> shortestGap;
    std::optional<bool> judgesBleed;

    bool operator==(const SectionDetection&) const = default;
    bool empty() const { return !threshold && !shortestGap && !judgesBleed; }
};

/// Beats of one bar, in the meter's own unit.
struct BeatRange {
    int first = 1;
    int count = 1;
    bool operator==(const BeatRange&) const = default;
};

/// A named run of whole bars, or of beats inside one bar. What it does not set itself follows the song; beats
/// follow the section of their bar first.
struct Section {
    std::string name;
    int firstBar = 1;
    int bars = 1;
    std::optional<NoteValue> grid;
    std::optional<double> strength; ///< per cent
    std::optional<Finest> finest{};
    std::vector<SectionDetection> detection{}; ///< at most one for each mic
    std::optional<double> swing{};
    std::optional<Milliseconds> pocket{};
    std::optional<Pull> pull{};
    std::optional<Reach> reach{};
    std::optional<DrumTimings> drumTimings{};
    std::optional<FeelUse> feel{};
    std::optional<BeatRange> beats{}; ///< then `bars` is 1

    bool operator==(const Section&) const = default;
    bool holds(int bar) const { return firstBar <= bar && bar < firstBar + bars; }
    /// Of whole bars each beat is held.
    bool holds(int bar, double beat) const {
        return holds(bar) && (!beats || (beats->first <= beat && beat < beats->first + beats->count));
    }
    const SectionDetection* detectionOf(const std::string& mic) const;
};

/// Bars first, then what lies in them.
bool comesBefore(const Section& a, const Section& b);
/// Whether both claim the same place. Beats lie on top of bars.
bool overlap(const Section& a, const Section& b);

/// The sections of bars that begin or end at bar line `from` do so at `to` instead, as far as each keeps a bar and
/// none overlaps another.
std::vector<Section> withBorderMoved(std::vector<Section> sections, int from, int to);

/// A section of bars in two at a bar line inside it; both keep what it sets, the second is called "… 2".
std::vector<Section> withSplit(std::vector<Section> sections, int bar);

/// The sections with one more; those of bars in its way are cut short or in two (the second part keeps the name),
/// those of beats are dropped.
std::vector<Section> withSection(const std::vector<Section>& sections, const Section& added);

} // namespace lampo
