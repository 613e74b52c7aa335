#include "session/pieces.h"

#include <algorithm>

namespace lampo {
namespace {

void append(std::vector<Piece>& pieces, Piece piece) {
    if (piece.range.empty())
        return;
    Piece* last = pieces.empty() ? nullptr : &pieces.back();
    if (last && last->take == piece.take && (!piece.take || last->shift == piece.shift))
        last->range.end = piece.range.end;
    else
        pieces.push_back(piece);
}

} // namespace

std::vector<Piece> piecesOf(const Session& session) {
    std::vector<Piece> pieces;
    if (session.empty())
        return pieces;
    const auto& passages = session.comp.passages;
    const SongFrame end = SongFrame{0} + session.length();
    for (std::size_t p = 0; p < passages.size(); ++p) {
        const Passage& passage = passages[p];
        const Range<SongFrame> range{passage.begin, p + 1 < passages.size() ? passages[p + 1].begin : end};
        if (!passage.take) {
            append(pieces, {range, std::nullopt, {}, p});
        } else if (passage.graft) {
            append(pieces, {range, passage.take, session.takes[*passage.take].shift() + *passage.graft, p});
        } else {
            for (std::size_t f = 0; f < session.form.size(); ++f) {
                const FormPart& part = session.form[f];
                const SongFrame from = f == 0 ? range.begin : part.begin;
                const SongFrame to = f + 1 < session.form.size() ? session.form[f + 1].begin : range.end;
                const auto stretch = range.intersected({from, to});
                if (part.moved)
                    append(pieces, {stretch, passage.take, session.takes[*passage.take].shift() + *part.moved, p});
                else
                    append(pieces, {stretch, std::nullopt, {}, p});
            }
        }
    }
    return pieces;
}

std::optional<Piece> pieceAt(const Session& session, SongFrame place) {
    for (const Piece& piece : piecesOf(session))
        if (piece.range.contains(place))
            return piece;
    return std::nullopt;
}

std::optional<SourceToSong> ownShift(const Session& session, TakeIndex take, SongFrame place) {
    const auto moved = movedAt(session.form, place);
    return moved ? std::optional(session.takes[take].shift() + *moved) : std::nullopt;
}

} // namespace lampo
