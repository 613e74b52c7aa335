#pragma once

#include "map/note_value.h"
#include "session/settings.h"

#include <optional>
#include <string>
#include <vector>

namespace lampo {

/// How hits are detected in one guide inside one section; what is not set here follows the guide's own settings.
struct SectionDetection {
    std::string mic;                         ///< its stem
    std::optional<Decibels> threshold;       ///< none: the guide's own
    std::optional<Milliseconds> shortestGap; ///< none: the guide's own
    std::optional<bool> judgesBleed;         ///< none: the guide's own

    bool operator==(const SectionDetection&) const = default;
    /// Whether it sets nothing.
    bool empty() const { return !threshold && !shortestGap && !judgesBleed; }
};

/// Beats of one bar, in the meter's own unit.
struct BeatRange {
    int first = 1; ///< from 1
    int count = 1; ///< how many
    bool operator==(const BeatRange&) const = default;
};

/// A named run of whole bars, or of beats inside one bar. What it does not set itself follows the song; beats
/// follow the section of their bar first.
struct Section {
    std::string name;                          ///< for people; may be empty
    int firstBar = 1;                          ///< limits::bars
    int bars = 1;                              ///< how many, at least 1
    std::optional<NoteValue> grid;             ///< from line to line
    std::optional<double> strength;            ///< per cent
    std::optional<Finest> finest{};            ///< which strokes count
    std::vector<SectionDetection> detection{}; ///< at most one for each mic
    std::optional<double> swing{};             ///< limits::swing
    std::optional<Milliseconds> pocket{};      ///< limits::pocket
    std::optional<Pull> pull{};                ///< where hits outside the pocket go
    std::optional<Reach> reach{};              ///< how far hits are moved at most
    std::optional<DrumTimings> drumTimings{};  ///< what the hits of each drum do
    std::optional<FeelUse> feel{};             ///< which feel bends the lines
    std::optional<Milliseconds> leadIn{};      ///< limits::leadIn
    std::optional<Fill> fill{};                ///< what becomes of holes
    std::optional<BeatRange> beats{};          ///< then `bars` is 1

    bool operator==(const Section&) const = default;
    /// Whether it rules in the bar, or in some of it.
    bool holds(int bar) const { return firstBar <= bar && bar < firstBar + bars; }
    /// Of whole bars each beat is held.
    bool holds(int bar, double beat) const {
        return holds(bar) && (!beats || (beats->first <= beat && beat < beats->first + beats->count));
    }
    /// Null where it sets nothing for this mic.
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
