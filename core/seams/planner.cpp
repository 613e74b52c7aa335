#include "seams/planner.h"

#include "seams/rider.h"
#include "seams/tails.h"
#include "session/seams_by_place.h"

#include <algorithm>

namespace lampo {
namespace {

/// How far from its place by the rule a seam is looked for.
constexpr Milliseconds farthestSearch{200};
constexpr Milliseconds nearBorder{40};   ///< and a border, which was put where it is
constexpr Milliseconds nearTailsEnd{25}; ///< in which a stretched tail passes into the next slice

class Planner {
public:
    Planner(const Session& session, std::span<const TakeSound> sounds, const SeamAnswers& answers)
        : session_(session), sounds_(sounds), answers_(answers), measures_(session), stretches_(sounds, measures_),
          tails_(measures_, session.rate), rules_(session), farthest_(toFrames(farthestSearch, session.rate)),
          tolerance_(correctionTolerance(session.rate)) {
        plan_.length = session.length();
    }

    Plan run(const Choice& choice) {
        for (std::size_t p = 0; p < choice.pieces.size(); ++p) {
            const ChosenPiece& piece = choice.pieces[p];
            const bool ends = p + 1 == choice.pieces.size();
            if (!plan_.segments.empty() || piece.in.end > ResultFrame{0})
                comeIn(piece, ends ? ResultFrame{plan_.length.frames} : choice.pieces[p + 1].in.begin);
            sounding_ = !piece.silent();
            if (sounding_)
                joinHits(piece);
        }
        if (sounding_)
            finish(choice.pieces.back());
        dropBeforeTheSong(plan_);
        return std::move(plan_);
    }

private:
    /// `limit`: where the piece itself gives way at the earliest.
    void comeIn(const ChosenPiece& piece, ResultFrame limit) {
        const FrameCount length = piece.in.length();
        const TakeIndex out = take_;
        take_ = piece.piece.take.value_or(take_);
        if (sounding_ && !piece.silent())
            return border(piece, out, limit);
        if (sounding_)
            end(piece.in.end, length);
        if (!piece.silent())
            begin(piece.in.begin, piece.shiftIn, length);
        plan_.seams.push_back({piece.in, piece.silent() ? SeamKind::closed : SeamKind::opened});
    }

    /// From take to take, as near its place as the strokes of both allow, with the length it was given.
    void border(const ChosenPiece& piece, TakeIndex out, ResultFrame limit) {
        const Segment& before = plan_.segments.back();
        const SeamSide from{out, before.shift}, to{take_, piece.shiftIn};
        const FrameCount length = piece.in.length();
        const auto room =
            piece.quiet.intersected({before.sounds.begin + before.fadeIn, std::max(limit, piece.in.end)});
        Seam seam{piece.in, SeamKind::border};
        seam.curve = session_.seams.curve;
        std::vector<Range<ResultFrame>> free;
        cutTo(stretches_.in(room, from, to), room, length, free);
        if (free.empty() || sounds_.empty())
            return crossfade(seam, to.shift);
        const auto away = [&](const Range<ResultFrame>& stretch) {
            return abs(ending(piece.in.end, length, stretch).end - piece.in.end);
        };
        seam.range = ending(piece.in.end, length,
                            *std::min_element(free.begin(), free.end(),
                                              [&](const auto& a, const auto& b) { return away(a) < away(b); }));
        // Not far from that place, and not in the lead-in of what comes in.
        const FrameCount near = toFrames(nearBorder, session_.rate);
        ResultFrame latest = seam.range.end + near;
        if (piece.first < piece.end)
            latest = std::min(latest, sliceOf(piece, piece.first).begin() + to.shift);
        cutTo(free, {seam.range.begin - near, std::max(latest, seam.range.end)}, length, question_.free);
        pose(from, to, seam, {length, length});
        ask(seam);
    }

    void joinHits(const ChosenPiece& piece) {
        std::size_t hit = piece.first;
        const SourceFrame start = SourceFrame{0} - measures_.after;
        Slice earlier = bareSlice(start, piece.shiftIn);
        if (plan_.segments.empty()) {
            take_ = *piece.piece.take;
            begin(ResultFrame{0}, piece.shiftIn, {});
        }
        if (piece.in.end > ResultFrame{0} || piece.first > 0) {
            if (piece.first == piece.end)
                return;
            earlier = sliceOf(piece, hit++);
        }
        for (; hit < piece.end; ++hit) {
            const Slice later = sliceOf(piece, hit);
            join(earlier, later);
            earlier = later;
        }
    }

    /// The end of the files is in place again, so that the last tail is neither cut short nor runs out.
    void finish(const ChosenPiece& piece) {
        const ResultFrame end{plan_.length.frames};
        plan_.segments.back().sounds.end = end;
        if (!endsWithItsTake(session_, piece) || piece.shiftOut == asResult(piece.piece.shift))
            return;
        const Segment& last = plan_.segments.back();
        const SourceFrame quiet = last.sourceAt(last.sounds.begin + last.fadeIn) - measures_.after;
        const SourceFrame fileEnd = SourceFrame{session_.takes[take_].length.frames} + measures_.before;
        const SourceFrame attack = piece.end > piece.first ? piece.laid->hits[piece.end - 1].last : quiet;
        join(bareSlice(attack, piece.shiftOut), bareSlice(fileEnd, asResult(piece.piece.shift)));
        plan_.segments.back().sounds.end = end;
    }

    /// Of a hit, as what rules where it lands has it.
    Slice sliceOf(const ChosenPiece& piece, std::size_t hit) const {
        const Hit& at = piece.laid->hits[hit];
        const SourceToResult shift = piece.laid->shiftOf(hit);
        const SeamSettings& rule = rules_.at(asSong(at.anchor + shift));
        return {at.first,
                at.last,
                shift,
                piece.laid->landings[hit].slipped,
                std::max(toFrames(rule.leadIn, session_.rate), measures_.before),
                rule.fill,
                at.found()};
    }
    /// Of what is no hit: where the material begins or ends.
    Slice bareSlice(SourceFrame at, SourceToResult shift) const {
        return {at, at, shift, {}, measures_.leadIn, session_.seams.fill};
    }

    void begin(ResultFrame at, SourceToResult shift, FrameCount fadeIn) {
        plan_.segments.push_back({take_, shift, {at, at}, fadeIn, {}});
    }

    void end(ResultFrame at, FrameCount fadeOut) {
        plan_.segments.back().sounds.end = at;
        plan_.segments.back().fadeOut = fadeOut;
    }

    void crossfade(const Seam& seam, SourceToResult shift, std::optional<float> likeness = {}) {
        end(seam.range.end, seam.range.length());
        begin(seam.range.begin, shift, seam.range.length());
        plan_.segments.back().likeness = likeness;
        plan_.segments.back().curve = seam.curve;
        plan_.seams.push_back(seam);
    }

    void join(const Slice& a, const Slice& b) {
        const FrameCount opened = b.shift - a.shift;
        if (opened == FrameCount{0})
            return cutOnly(a, b);
        const SeamByHand* hand = byHand(a, b);
        const Fill fill = hand ? hand->fill.value_or(b.fill) : b.fill;
        if (opened > FrameCount{0} && fill == Fill::open)
            return leaveOpen(a, b);
        if (opened > FrameCount{0} && fill == Fill::stretch && stretchTails(a, b, hand))
            return;
        const auto& free = stretches_.in(roomBetween(a, b, a.shift, b.shift), {take_, a.shift}, {take_, b.shift});
        if (free.empty() && !(hand && hand->ahead))
            if (const auto rider = riderBetween(a, b, strokes(), measures_)) {
                join(a, *rider);
                return join(*rider, b);
            }
        if (opened > b.first - a.last - measures_.around())
            return stretchTails(a, b, hand) ? void() : repeatTail(a, b);
        seamBetween(a, b, free, hand);
    }

    /// Of all drums, in the take that sounds.
    std::span<const SourceFrame> strokes() const {
        return take_ < sounds_.size() ? sounds_[take_].strokes : std::span<const SourceFrame>{};
    }

    /// What the user said about the seam between these two; null: nothing.
    const SeamByHand* byHand(const Slice& a, const Slice& b) const {
        const auto between = betweenOf(a, b);
        return between ? saidAbout(session_.seamsByHand, *between, tolerance_) : nullptr;
    }
    std::optional<SeamBetween> betweenOf(const Slice& a, const Slice& b) const {
        return a.found && b.found ? std::optional(SeamBetween{session_.takes[take_].letter, *a.found, *b.found})
                                  : std::nullopt;
    }

    /// Both slices moved alike: they are one piece of source, and the cut is only a place.
    void cutOnly(const Slice& a, const Slice& b) {
        const SourceFrame cut = std::max(a.last + measures_.after, b.begin());
        const ResultFrame at = cut + b.shift;
        if (cut > b.first - measures_.before ||
            at <= plan_.segments.back().sounds.begin + plan_.segments.back().fadeIn)
            return;
        end(at, {});
        begin(at, b.shift, {});
    }

    /// The stretch in which neither side holds an attack of its hit, where a is moved by `from` and b by `to`.
    Range<ResultFrame> roomBetween(const Slice& a, const Slice& b, SourceToResult from, SourceToResult to) const {
        return {a.last + measures_.after + std::max(from, to), b.first - measures_.before + std::min(from, to)};
    }

    void seamBetween(const Slice& a, const Slice& b, std::span<const Range<ResultFrame>> free,
                     const SeamByHand* hand) {
        const SeamSide from{take_, a.shift}, to{take_, b.shift};
        Seam seam{{}, to.shift < from.shift ? SeamKind::crossfade : SeamKind::borrowed};
        seam.room = roomBetween(a, b, a.shift, b.shift);
        seam.curve = hand ? hand->curve.value_or(session_.seams.curve) : session_.seams.curve;
        seam.between = betweenOf(a, b);
        if (free.empty())
            free = {&seam.room, 1};
        // The edges of a slipped passage stay where they were; inside one, seams go with the sound.
        const bool edge = a.slipped != b.slipped;
        const ResultFrame wanted =
            b.begin() + (edge ? std::min(a.shift + -a.slipped, b.shift + -b.slipped) : std::min(a.shift, b.shift));
        seam.range = ruledPlace(free, wanted, measures_.fade);
        // Not far before the rule's place, and not behind it, which would be in the lead-in.
        cutTo(free, {seam.range.begin - farthest_, seam.range.end}, measures_.shortest, question_.free);
        pose(from, to, seam, {measures_.shortest, measures_.fade});
        const ResultFrame attack = b.first + b.shift;
        if (hand && (hand->ahead || hand->fade))
            placeByHand(*hand, attack, seam);
        else if (edge || sounds_.empty())
            crossfade(seam, b.shift);
        else
            ask(seam);
        plan_.seams.back().ahead = attack - plan_.seams.back().range.end;
    }

    /// Where the user put it, as far as both hits' attacks stay whole; what was not said is as it would be.
    void placeByHand(const SeamByHand& hand, ResultFrame attack, Seam seam) {
        const Range<ResultFrame> usual = placeOf(answers_.of(question_.key)).value_or(seam.range);
        const FrameCount wanted = hand.fade ? toFrames(*hand.fade, session_.rate) : usual.length();
        const FrameCount length = std::clamp(wanted, measures_.shortest, seam.room.length());
        seam.range = ending(hand.ahead ? attack - *hand.ahead : usual.end, length, seam.room);
        seam.by = PlacedBy::hand;
        crossfade(seam, question_.to);
    }

    /// The tails between two hits are lengthened until they fill the hole. False where there is no tail to speak
    /// of.
    bool stretchTails(const Slice& a, const Slice& b, const SeamByHand* hand) {
        const auto& tails = tails_.between(a, b, strokes());
        for (const LongerTail& tail : tails) {
            const bool last = &tail == &tails.back();
            stretchTail(tail, last ? betweenOf(a, b) : std::nullopt, hand, b.first + b.shift);
        }
        return !tails.empty();
    }

    /// Into the lengthened tail where it begins, and out of it near its end.
    void stretchTail(const LongerTail& tail, const std::optional<SeamBetween>& between, const SeamByHand* hand,
                     ResultFrame attack) {
        const Range<ResultFrame> over = tail.stretch.over;
        const SourceToResult shift = plan_.segments.back().shift;
        const FrameCount fade = std::min(measures_.fade, FrameCount{tail.stretch.tail.length().frames / 3});
        Seam seam{{over.begin, over.begin + fade}, SeamKind::stretched};
        seam.curve = hand ? hand->curve.value_or(session_.seams.curve) : session_.seams.curve;
        seam.stretch = tail.stretch.ratio();
        crossfade(seam, shift);
        plan_.segments.back().stretch = tail.stretch;
        seam.between = between;
        // What follows may begin as early as the tail did, and no earlier: an attack lies before that.
        seam.room = {std::max(seam.range.end, over.end - tail.stretch.tail.length()), over.end};
        seam.range = {over.end - fade, over.end};
        const ResultFrame earliest = over.end - toFrames(nearTailsEnd, session_.rate);
        question_.free.assign({{std::max(earliest, seam.room.begin), over.end}});
        pose({take_, shift}, {take_, tail.shiftBehind}, seam, {measures_.shortest, fade}, tail.stretch);
        if (between && hand && (hand->ahead || hand->fade))
            placeByHand(*hand, attack, seam);
        else if (sounds_.empty())
            crossfade(seam, tail.shiftBehind);
        else
            ask(seam);
        if (between)
            plan_.seams.back().ahead = attack - plan_.seams.back().range.end;
    }

    /// The hole is longer than one tail, and nothing rings that could be stretched: what is free of strokes sounds
    /// as often as it takes.
    void repeatTail(const Slice& a, const Slice& b) {
        const SeamSide still{take_, a.shift};
        const auto& free = stretches_.in(roomBetween(a, b, a.shift, a.shift), still, still);
        const auto longest = std::max_element(free.begin(), free.end(),
                                              [](const auto& x, const auto& y) { return x.length() < y.length(); });
        Slice from = a, to = b;
        if (longest != free.end() && longest->length() > measures_.shortest + measures_.shortest) {
            from.last = longest->begin - a.shift - measures_.after;
            to.first = longest->end - a.shift + measures_.before;
        }
        const std::int64_t room = std::max<std::int64_t>(1, (to.first - from.last - measures_.around()).frames);
        const std::int64_t opened = (b.shift - a.shift).frames, times = (opened + room - 1) / room;
        SourceToResult earlier = a.shift;
        for (std::int64_t step = 1; step <= times; ++step) {
            const SourceToResult later = a.shift + FrameCount{opened * step / times};
            const auto place = roomBetween(from, to, earlier, later);
            // One seam is over before the next begins.
            const FrameCount length = std::min({measures_.fade, place.length(), later - earlier});
            Seam seam{ending(to.first - b.leadIn + earlier, length, place), SeamKind::repeated};
            seam.curve = session_.seams.curve;
            seam.again = later - earlier;
            crossfade(seam, later);
            earlier = later;
        }
    }

    /// The question where a seam that the rule has placed would sound best, whose free stretches are there already.
    void pose(const SeamSide& from, const SeamSide& to, const Seam& seam, std::pair<FrameCount, FrameCount> lengths,
              const std::optional<Stretch>& stretch = {}) {
        question_.stretch = stretch;
        question_.earlier = from.take;
        question_.later = to.take;
        question_.from = from.shift;
        question_.to = to.shift;
        question_.ruled = seam.range;
        question_.shortest = lengths.first;
        question_.longest = lengths.second;
        question_.curve = seam.curve;
        if (!sounds_.empty())
            question_.key = keyOf(question_, sounds_[from.take].content, sounds_[to.take].content);
    }
    /// The seam where an answer puts it, or where the rule does while there is none.
    void ask(Seam seam) {
        const auto answer = answers_.of(question_.key);
        if (const auto place = placeOf(answer)) {
            seam.range = *place;
            seam.by = PlacedBy::search;
            seam.dip = answer->dip;
            seam.ruledDip = answer->ruledDip;
            seam.ring = answer->ring;
            return crossfade(seam, question_.to, answer->likeness);
        }
        crossfade(seam, question_.to);
        plan_.open.push_back(question_);
    }
    /// Where it was found to sound best; what was kept may be anything, and counts only where the seam may lie.
    std::optional<Range<ResultFrame>> placeOf(const std::optional<SeamAnswer>& answer) const {
        if (!answer)
            return std::nullopt;
        const ResultFrame begin = question_.ruled.begin + answer->later;
        const Range<ResultFrame> place{begin, begin + answer->length};
        return question_.allows(place) ? std::optional(place) : std::nullopt;
    }

    void leaveOpen(const Slice& a, const Slice& b) {
        const SourceFrame cut =
            std::clamp(b.begin(), a.last + measures_.after + measures_.shortest, b.first - measures_.before);
        // The fade out ends at the cut, the fade in begins there, each in its own slice.
        const FrameCount out = std::min(measures_.fade, cut - (a.last + measures_.after));
        const FrameCount in = std::min(measures_.fade, (b.first - measures_.before) - cut);
        const ResultFrame holeBegin = cut + a.shift;
        const ResultFrame holeEnd = cut + b.shift;
        end(holeBegin, out);
        plan_.seams.push_back({{holeBegin - out, holeBegin}, SeamKind::closed});
        begin(holeEnd, b.shift, in);
        plan_.seams.push_back({{holeEnd, holeEnd + in}, SeamKind::opened});
        plan_.seams.back().between = betweenOf(a, b);
    }

    const Session& session_;
    std::span<const TakeSound> sounds_;
    const SeamAnswers& answers_;
    SeamMeasures measures_;
    FreeStretches stretches_;
    Tails tails_;
    SeamQuestion question_; ///< that is being asked
    SeamsByPlace rules_;
    FrameCount farthest_;  ///< from the rule's place
    FrameCount tolerance_; ///< within which a hit is the one that was spoken of
    TakeIndex take_;       ///< that sounds
    bool sounding_ = false;
    Plan plan_;
};

} // namespace

Plan planSlices(const Session& session, const Choice& choice, std::span<const TakeSound> sounds,
                const SeamAnswers& answers) {
    return Planner(session, sounds, answers).run(choice);
}

} // namespace lampo
