#pragma once

#include "advice/hit_stroke.h"
#include "document/document.h"
#include "look/ink.h"
#include "map/musical_map.h"
#include "sheet/sheet_layout.h"
#include "sheet/time_axis.h"

#include <map>
#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace lampo {

enum class Show { asPlayed, asLanded, both };

/// All that a picture of the sheet depends on. Painters are functions of it.
struct SheetState {
    const Session* session = nullptr;
    const Outcome* outcome = nullptr;
    TimeAxis axis;
    SheetLayout layout;
    Ink ink;
    Show show = Show::both;
    static constexpr double highestWaves = 256;
    std::shared_ptr<const Plan> raw; ///< the cuts alone, where those are shown; null otherwise
    /// That is drawn as landed.
    const Plan& plan() const { return raw ? *raw : *outcome->plan; }
    double waveHeight = 1;                   ///< of all lanes, 1 to highestWaves times what fits the loudest sample
    std::map<MicIndex, double> ownHeights{}; ///< of single lanes, times that
    std::optional<HitIndex> selected;        ///< the hit that keys and panels speak of
    std::vector<HitIndex> selection;         ///< all chosen hits, ascending; holds `selected`
    bool showsCandidates = false;            ///< candidates and thresholds are shown (the stop Hits)
    std::optional<SeamIndex> seam;           ///< the seam that keys and panel speak of
    std::vector<SeamIndex> seams;            ///< all chosen seams, ascending; holds `seam`
    bool choosesSeams = false;               ///< a click in the lanes chooses seams (the stop Seams)
    bool allStrokes = false;                 ///< strokes of drums that do not guide are shown as well
    /// dB above all else from which nothing else is worth naming.
    static constexpr double explainsNothing = 40;
    /// One candidate of one guide, where its take is laid.
    struct CandidateRef {
        MicIndex mic;
        std::size_t index = 0;
        std::size_t piece = 0; ///< of the song, in which it was played
        bool operator==(const CandidateRef&) const = default;
    };
    std::optional<CandidateRef> candidate; ///< the chosen one
    /// The start of a hit being dragged, on the take's axis.
    struct MarkDrag {
        HitIndex hit;
        SourceFrame at;
    };
    std::optional<MarkDrag> mark;
    /// What stands against a landing that is being dragged.
    enum class Limit {
        none,
        neighbour, ///< it cannot go farther
        joined,    ///< too near a neighbour to be cut from it: both move
        hole,      ///< what it leaves behind is too long to fill well
    };
    struct Drag {
        HitIndex hit;
        Limit limit = Limit::none;
    };
    std::optional<Drag> drag;
    /// Whether a hit is dragged to where something stands against it.
    bool isStopped(HitIndex hit) const { return drag && drag->hit == hit && drag->limit != Limit::none; }
    Range<ResultFrame> loop;
    bool plotsLevels = false;                 ///< the plot shows how loud strokes are instead of how early
    std::optional<std::size_t> plotsSample{}; ///< or how loud one of Session::samples is beside them
    PatchMics repairsOn{};                    ///< the mics that a level dragged in the plot is set on
    MicSet only = 0;                          ///< the mics that edits are done to; 0: the whole kit

    bool isSelected(HitIndex hit) const;
    ResultFrame landingOf(HitIndex hit) const { return outcome->landings[hit].at; }
    /// Where the hit was played, or is being dragged to.
    SongFrame playedAt(HitIndex hit) const;
    /// Milliseconds behind the grid (not what feel or a companion make of it), late is positive; none for a hit
    /// without a line.
    std::optional<double> latenessOf(HitIndex hit, bool landed) const;
    /// Half the height of the early/late plot, ms; measurePlot() sets it after the outcome changed.
    double plotReach = 20;
    void measurePlot();
    /// Where a lateness is drawn in the plot.
    double plotY(double milliseconds) const;
    QPointF plotPoint(HitIndex hit, bool landed) const;
    bool showsLevels() const { return plotsLevels || plotsSample; }
    /// The one whose levels the plot shows.
    const DrumSample* plottedSample() const;
    /// How loud a hit's stroke is against a strong one of its drum, dB, as it was played or as it is made (by
    /// patches; for a sample, by what was said); none for a hit without such a stroke.
    std::optional<double> strokeLevel(HitIndex hit, bool made) const;
    static constexpr double loudestPlotted = 12, softestPlotted = -36; ///< dB
    /// Of noteheads in the plot, pixels: smaller where many are seen.
    double plotHeadSize() const;
    /// Where a level is drawn in the plot.
    double plotLevelY(double decibels) const;
    double decibelsPerPixel() const;
    /// First and one-past-last hit that may be visible.
    std::pair<HitIndex, HitIndex> visibleHits() const;
    /// The part of a lane that shows the sound as played; empty when none does.
    QRect playedBand(MicIndex lane) const;
    /// Of one lane's waves, 1 to highestWaves.
    double waveHeightOf(MicIndex lane) const;
    /// The part of a lane that shows the sound as landed; empty when none does.
    QRect landedBand(MicIndex lane) const;
    /// A seam, and where it is taken.
    struct SeamGrip {
        enum class Part { begin, middle, end };
        SeamIndex seam;
        Part part = Part::middle;
    };
    /// The seam under the point of a lane; its ends only where they are apart enough to be told.
    std::optional<SeamGrip> seamUnder(QPoint point) const;
    /// Whether a lane shows its mic's candidates.
    bool showsCandidatesOf(MicIndex lane) const;
    /// Strokes of a mic's drum in the takes that sound: where they were played, and how loud.
    std::vector<std::pair<SongFrame, Decibels>> strokesBetween(MicIndex mic, double firstFrame,
                                                               double lastFrame) const;
    /// Candidates of the takes that sound, between two places of the song.
    std::vector<CandidateRef> candidatesBetween(MicIndex mic, double firstFrame, double lastFrame) const;
    const Candidate& candidateOf(CandidateRef candidate) const;
    const JudgedCandidate& judgedOf(CandidateRef candidate) const;
    SongFrame candidateAt(CandidateRef candidate) const;
    /// Whether it is still there after a change.
    bool exists(CandidateRef candidate) const;
    /// Height of a level in a lane: 0 dB near its top, −42 dB and less at its foot.
    double levelY(MicIndex lane, Decibels level) const;
    Decibels levelAt(MicIndex lane, int y) const;
    /// The threshold that rules a mic at a place: its section's or its own.
    Decibels thresholdAt(MicIndex mic, SongFrame at) const;
    /// The guide whose threshold line lies under the point.
    std::optional<MicIndex> thresholdUnder(QPoint point) const;
    /// The candidate whose head lies under the point.
    std::optional<CandidateRef> candidateUnder(QPoint point) const;
    /// The hit whose notehead in ladder or plot, or whose line in the lanes, is nearest and within reach.
    std::optional<HitIndex> hitAt(QPoint point) const;
};

} // namespace lampo
