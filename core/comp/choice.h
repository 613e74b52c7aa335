#pragma once

#include "comp/laid_take.h"

#include <functional>
#include <memory>

namespace lampo {

/// A piece of the song with the hits that sound in it, and the seam through which it comes in.
struct ChosenPiece {
    Piece piece;                          ///< of the song
    std::shared_ptr<const LaidTake> laid; ///< null in silence
    std::size_t first = 0;                ///< its hits: [first, end) of the laid take's
    std::size_t end = 0;                  ///< behind the last of them
    SourceToResult shiftIn;               ///< at its begin
    SourceToResult shiftOut;    ///< and at its end; they differ when its first and last hit moved differently
    Range<ResultFrame> in;      ///< the seam at its begin; empty at the song's begin
    SongFrame meant;            ///< hits that mean this place and later ones belong to it
    Range<ResultFrame> quiet{}; ///< all of the stretch in which neither side has an attack; `in` lies there

    /// Whether no take sounds there.
    bool silent() const { return !laid; }
    /// Those of the laid take that sound in the piece.
    std::span<const Hit> hits() const { return std::span(laid->hits).subspan(first, end - first); }
};

/// A border that found no quiet place: what lies behind it goes on as before it.
struct CrowdedBorder {
    SongFrame at; ///< where the border was wanted
};

/// All that sounds; where the song ends before its last take does, an empty silent piece ends it.
struct Choice {
    std::vector<ChosenPiece> pieces;    ///< all of the song, one behind another
    std::vector<CrowdedBorder> crowded; ///< borders that found no quiet place
};

/// Whether a piece goes on to the end of its take's files.
bool endsWithItsTake(const Session& session, const ChosenPiece& piece);

/// The laid take for a piece that is not silent.
using LaidTakeOf = std::function<std::shared_ptr<const LaidTake>(const Piece& piece)>;

/// Which take's hits sound. A hit belongs to one side of a border by the line it means, not by when it was played:
/// a downbeat played early belongs to its bar in every take, so none is doubled and none is missing. The seam lies
/// where both sides are quiet (keptBefore and keptAfter of all attacks, also of those that do not sound, which
/// would otherwise be heard in the fade), as near the border as that allows, in front of the next attack. Where
/// there is no such place the border moves to the nearest one that has. Pure; linear in borders x hits near them.
Choice chooseHits(const Session& session, const LaidTakeOf& laidTakeOf);

} // namespace lampo
