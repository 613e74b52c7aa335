#include "shell/hit_menu.h"

#include "document/player_control.h"
#include "onsets/onset_finder.h"
#include "session/seams_by_place.h"
#include "stops/timing/hand_page.h"
#include "takes/takes_words.h"

#include <QMenu>

#include <algorithm>
#include <array>

namespace lampo {
namespace {

constexpr Milliseconds snapReach{15};     ///< an added hit goes to the attack this near
constexpr Decibels worthALook{6};         ///< to both sides of a threshold
constexpr Milliseconds hitAlone{120};     ///< what is heard of one
constexpr Milliseconds longestSlice{800}; ///< of a hit that nothing follows

} // namespace

HitMenu::HitMenu(const ActionMenu& made, Document& document, SheetWidget& sheet, HandPage& hand,
                 PlayerControl& player)
    : QObject(made.menu), document_(document), sheet_(sheet), hand_(hand), player_(player) {
    const auto& [menu, actions] = made;
    addCorrections(menu, actions);
    menu->addSeparator();
    addShapes(menu, actions);
    menu->addSeparator();
    addNudges(menu, actions);
    menu->addSeparator();
    addAuditioning(menu, actions);
    connect(&sheet_, &SheetWidget::hitSelected, this, [this] { nudgeGesture_ = Document::newGesture(); });
}

void HitMenu::addCorrections(QMenu* menu, Actions& actions) {
    menu->addAction(actions.add(QStringLiteral("pin"), tr("&Pin as played"), QKeySequence(tr("P")),
                                [this] { correct(Correction::Kind::pin); }));
    menu->addAction(actions.add(QStringLiteral("add-hit"), tr("&Add a hit at the pointer"), QKeySequence(tr("A")),
                                [this] { addAtPointer(false); }));
    menu->addAction(actions.add(QStringLiteral("add-hit-exactly"), tr("Add a hit &exactly there"),
                                QKeySequence(tr("Shift+A")), [this] { addAtPointer(true); }));
    menu->addAction(actions.add(QStringLiteral("cut-anyway"), tr("&Cut here without an attack"),
                                QKeySequence(tr("Shift+X")), [this] { cutAtPointer(); }));
    menu->addAction(actions.add(QStringLiteral("remove-hit"), tr("Re&move"), QKeySequence(Qt::Key_Delete),
                                [this] { remove(); }));
    menu->addAction(actions.add(QStringLiteral("free-hit"), tr("&Forget what was said about it"),
                                QKeySequence(tr("Shift+P")), [this] { forget(); }));
}

void HitMenu::addShapes(QMenu* menu, Actions& actions) {
    menu->addAction(actions.add(QStringLiteral("split-hit"), tr("&Split into one for each mic"),
                                QKeySequence(tr("S")), [this] { correct(Correction::Kind::split); }));
    menu->addAction(actions.add(QStringLiteral("join-hits"), tr("&Join with the next"), QKeySequence(tr("J")),
                                [this] { join(); }));
    auto* drums = menu->addMenu(tr("It is a stroke of the &drum"));
    for (int v = 0; v <= static_cast<int>(Voice::other); ++v) {
        const auto voice = static_cast<Voice>(v);
        const QString drum = QString::fromLatin1(name(voice).data());
        drums->addAction(
            actions.add(QStringLiteral("drum-") + drum, drum, QKeySequence(tr("D, %1").arg(v + 1)), [this, voice] {
                correct(Correction::Kind::drum, [voice](Correction& c, std::size_t) { c.voice = voice; });
            }));
    }
    auto* anchors = menu->addMenu(tr("Anchor from the &mic"));
    anchors->setObjectName(QStringLiteral("anchors"));
    connect(anchors, &QMenu::aboutToShow, this, [this, anchors] { fillAnchors(anchors); });
}

void HitMenu::fillAnchors(QMenu* menu) {
    menu->clear();
    const auto selected = sheet_.state().selected;
    const auto& mics = document_.session().mics;
    for (MicIndex mic; selected && mic < mics.size(); ++mic)
        if (document_.outcome().hits[*selected].detectedBy & onlyMic(mic))
            menu->addAction(QString::fromStdString(mics[mic].shownName()), this, [this, stem = mics[mic].stem] {
                correct(Correction::Kind::anchor, [&](Correction& c, std::size_t) { c.mic = stem; });
            });
    if (menu->isEmpty())
        menu->addAction(tr("no hit is chosen"))->setEnabled(false);
}

void HitMenu::addNudges(QMenu* menu, Actions& actions) {
    const auto ms = [this](double value) { return toFrames(Milliseconds{value}, document_.session().rate); };
    const auto add = [&](const char* name, const QString& text, const QString& keys, std::function<void()> call) {
        menu->addAction(actions.add(QLatin1String(name), text, QKeySequence(keys), std::move(call)));
    };
    add("nudge-earlier", tr("Land &earlier by the nudge"), tr("Alt+Left"), [this] { hand_.nudge(-1); });
    add("nudge-later", tr("Land &later by the nudge"), tr("Alt+Right"), [this] { hand_.nudge(1); });
    add("nudge-earlier-fine", tr("Land 1 ms earlier"), tr("Alt+Shift+Left"), [=, this] { nudge(-ms(1)); });
    add("nudge-later-fine", tr("Land 1 ms later"), tr("Alt+Shift+Right"), [=, this] { nudge(ms(1)); });
    add("line-before", tr("Mean the line before"), tr("Shift+Left"), [this] { hand_.send(-1); });
    add("line-after", tr("Mean the line after"), tr("Shift+Right"), [this] { hand_.send(1); });
    add("make-phrase", tr("Make a phra&se"), tr("E"), [this] { hand_.makePhrase(); });
    add("clear-by-hand", tr("Clear what was done by hand here"), tr("Shift+Del"), [this] { hand_.clear(); });
    add("start-earlier", tr("Attack begins 0.5 ms earlier"), tr("Ctrl+Left"), [=, this] { moveStart(-ms(0.5)); });
    add("start-later", tr("Attack begins 0.5 ms later"), tr("Ctrl+Right"), [=, this] { moveStart(ms(0.5)); });
}

void HitMenu::addAuditioning(QMenu* menu, Actions& actions) {
    menu->addAction(actions.add(QStringLiteral("next-weak"), tr("Next &weak candidate"), QKeySequence(tr("W")),
                                [this] { stepWeak(1); }));
    menu->addAction(actions.add(QStringLiteral("previous-weak"), tr("Previous weak candidate"),
                                QKeySequence(tr("Shift+W")), [this] { stepWeak(-1); }));
    menu->addAction(actions.add(QStringLiteral("hear-slice"), tr("&Hear its slice"), QKeySequence(Qt::Key_Return),
                                [this] { audition(true, false); }));
    menu->addAction(actions.add(QStringLiteral("hear-hit"), tr("Hear the hit alone"),
                                QKeySequence(tr("Shift+Return")), [this] { audition(false, false); }));
    menu->addAction(actions.add(QStringLiteral("hear-mic"), tr("Hear its slice on its own mic"),
                                QKeySequence(tr("Ctrl+Return")), [this] { audition(true, true); }));
}

void HitMenu::stepHit(int step) {
    const auto& landings = document_.outcome().landings;
    if (landings.empty())
        return;
    std::int64_t next = 0;
    if (const auto selected = sheet_.state().selected) {
        next = static_cast<std::int64_t>(*selected) + step;
    } else {
        const auto after = std::partition_point(landings.begin(), landings.end(),
                                                [&](const Landing& l) { return l.at < player_.cursor(); });
        next = (after - landings.begin()) - (step < 0 ? 1 : 0);
    }
    sheet_.select(HitIndex{static_cast<std::size_t>(
                      std::clamp<std::int64_t>(next, 0, static_cast<std::int64_t>(landings.size()) - 1))},
                  true);
}

void HitMenu::stepWeak(int step) {
    const SheetState& state = sheet_.state();
    if (document_.session().empty())
        return;
    SongFrame from = asSong(player_.cursor());
    if (state.candidate)
        from = state.candidateAt(*state.candidate);
    else if (state.selected)
        from = document_.outcome().landings[*state.selected].played;
    std::optional<SheetState::CandidateRef> nearest;
    const auto end = static_cast<double>(document_.session().extent().frames);
    for (MicIndex mic; mic < document_.session().mics.size(); ++mic)
        for (const SheetState::CandidateRef ref : state.candidatesBetween(mic, 0, end)) {
            const JudgedCandidate& judged = state.judgedOf(ref);
            const bool open = judged.verdict == Verdict::hit || judged.verdict == Verdict::below;
            const SongFrame at = state.candidateAt(ref);
            const bool ahead = step > 0 ? at > from : at < from;
            if (!open || std::abs(judged.above.value) > worthALook.value || !ahead)
                continue;
            if (!nearest || (step > 0) == (at < state.candidateAt(*nearest)))
                nearest = ref;
        }
    if (!nearest)
        return emit notified(tr("There is no weak candidate any more in that direction"));
    sheet_.select(std::nullopt);
    sheet_.choose(nearest);
    player_.setCursor(asResult(state.candidateAt(*nearest)));
}

void HitMenu::correct(Correction::Kind kind, const std::function<void(Correction&, HitIndex)>& complete) {
    const auto& chosen = sheet_.state().selection;
    if (chosen.empty())
        return emit notified(tr("Choose a hit first: click it, or step through them with the arrow keys"));
    std::vector<Correction> corrections;
    for (const HitIndex hit : chosen) {
        Correction correction = correctionOf(document_.session(), document_.outcome().hits[hit], kind);
        if (complete)
            complete(correction, hit);
        corrections.push_back(std::move(correction));
    }
    document_.perform(Correct{std::move(corrections)});
}

/// What sounds under the pointer, and the mic whose lane it is in; at the cursor when the pointer is elsewhere.
/// Nothing where no take sounds.
std::optional<HitMenu::Pointed> HitMenu::pointedAt() const {
    const SheetState& state = sheet_.state();
    const Session& session = document_.session();
    SongFrame place = asSong(player_.cursor());
    std::optional<MicIndex> lane;
    if (const auto pointer = sheet_.pointer(); pointer && state.layout.lanesArea.contains(*pointer)) {
        place = state.axis.songAt(pointer->x());
        if (const auto under = state.layout.laneAt(*pointer); under && *under < session.mics.size())
            lane = *under;
    }
    const auto piece = pieceAt(session, place);
    if (!piece || !piece->take)
        return std::nullopt;
    return Pointed{*piece->take, piece->sourceAt(place), lane};
}

void HitMenu::addAtPointer(bool exactly) {
    const Session& session = document_.session();
    if (session.empty())
        return;
    if (const auto candidate = sheet_.state().candidate; candidate && !exactly)
        return sheet_.takeIn(*candidate);
    auto pointed = pointedAt();
    if (!pointed)
        return emit notified(noTakeSounds());
    const Take& take = session.takes[pointed->take];
    const MicIndex listened = pointed->lane.value_or(MicIndex{});
    if (!exactly && listened < session.mics.size() && !take.files[listened].empty()) {
        auto reader = AudioReader::open(take.files[listened], session.rate);
        if (const auto found =
                reader ? attackNear(*reader, pointed->at, snapReach) : tl::unexpected(reader.error()))
            pointed->at = *found;
        else
            return emit notified(QString::fromStdString(found.error().sentence));
    }
    Correction correction{Correction::Kind::add, take.letter, pointed->at};
    if (pointed->lane) {
        correction.mic = session.mics[*pointed->lane].stem;
        correction.voice = voiceOf(session.mics[*pointed->lane].role);
    }
    document_.perform(Correct{correction});
}

void HitMenu::cutAtPointer() {
    if (const auto pointed = pointedAt())
        document_.perform(Correct{
            Correction{Correction::Kind::cut, document_.session().takes[pointed->take].letter, pointed->at}});
}

void HitMenu::remove() {
    if (!sheet_.state().selection.empty())
        return correct(Correction::Kind::remove);
    emit notified(tr("Choose a hit first: click it, or step through them with the arrow keys"));
}

void HitMenu::forget() {
    std::vector<TakePlace> places;
    for (const HitIndex hit : sheet_.state().selection)
        places.push_back(placeOf(document_.session(), document_.outcome().hits[hit]));
    if (!places.empty())
        document_.perform(DeleteCorrections{places});
}

/// The chosen hits become one; a lone one is joined with the next.
void HitMenu::join() {
    auto chosen = sheet_.state().selection;
    const auto& hits = document_.outcome().hits;
    if (chosen.size() == 1 && chosen.front() + 1 < hits.size())
        chosen.push_back({chosen.front() + 1});
    if (chosen.size() < 2)
        return emit notified(tr("Choose the hits that are one: Shift or Ctrl and click chooses several"));
    if (!hits[chosen.front()].besideInItsTake(hits[chosen.back()]))
        return emit notified(tr("Hits of two takes cannot be joined"));
    Correction correction = correctionOf(document_.session(), hits[chosen.front()], Correction::Kind::join);
    correction.to = hits[chosen.back()].found();
    document_.perform(Correct{correction});
}

void HitMenu::nudge(FrameCount by) {
    const auto edit = nudgeEdit(document_.session(), document_.outcome(), sheet_.state().selection, by);
    if (!edit)
        return emit notified(QString::fromStdString(edit.error().sentence));
    document_.perform(*edit, document_.addingGesture(nudgeGesture_));
}

void HitMenu::moveStart(FrameCount by) {
    std::vector<Correction> corrections;
    for (const HitIndex hit : sheet_.state().selection) {
        const SongHit& found = document_.outcome().hits[hit];
        Correction correction = correctionOf(document_.session(), found, Correction::Kind::mark);
        correction.to = betweenNeighbours(document_.outcome(), hit, found.anchor + by);
        corrections.push_back(correction);
    }
    if (!corrections.empty())
        document_.perform(Correct{std::move(corrections)}, nudgeGesture_);
}

void HitMenu::audition(bool wholeSlice, bool oneMic) {
    const auto selected = sheet_.state().selected;
    const auto candidate = sheet_.state().candidate;
    if (!selected && !candidate)
        return emit notified(tr("Choose a hit to hear first"));
    const Session& session = document_.session();
    const auto& hits = document_.outcome().hits;
    const SeamsByPlace rules(session);
    const auto leadInAt = [&](SongFrame place) { return toFrames(rules.at(place).leadIn, session.rate); };
    SourceFrame begin, end;
    Placed where;
    std::optional<MicIndex> mic;
    if (selected) {
        const SongHit& hit = hits[*selected];
        where = {hit.take, hit.shift};
        begin = hit.first - leadInAt(asSong(sheet_.state().landingOf(*selected)));
        end = hit.anchor + toFrames(wholeSlice ? longestSlice : hitAlone, session.rate);
        if (*selected + 1 < hits.size() && wholeSlice && hits[*selected + 1].besideInItsTake(hit))
            end = std::max(begin + FrameCount{1},
                           hits[*selected + 1].first - leadInAt(asSong(sheet_.state().landingOf({*selected + 1}))));
        if (oneMic || !wholeSlice)
            mic = hit.mic;
    } else {
        const SourceFrame at = sheet_.state().candidateOf(*candidate).at;
        where = document_.outcome().choice.pieces[candidate->piece].laid->where;
        begin = at - leadInAt(sheet_.state().candidateAt(*candidate));
        end = at + toFrames(wholeSlice ? longestSlice : hitAlone, session.rate);
        mic = candidate->mic;
    }
    player_.audition(where, {std::max(begin, SourceFrame{0}), end}, mic);
}

} // namespace lampo
