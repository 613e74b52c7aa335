#include "takes/takes_menu.h"

#include "document/player_control.h"
#include "look/names.h"
#include "takes/takes_words.h"

#include <QMenu>

#include <algorithm>

namespace lampo {

TakesMenu::TakesMenu(const ActionMenu& made, Document& document, TakeStrip& strip, SheetWidget& sheet,
                     PlayerControl& player)
    : QObject(made.menu), document_(document), strip_(strip), sheet_(sheet), player_(player) {
    const auto& [menu, actions] = made;
    addChoosing(menu, actions);
    menu->addSeparator();
    addGrafts(menu, actions);
    menu->addSeparator();
    addBorders(menu, actions);
    menu->addSeparator();
    addBars(menu, actions);
    connect(&strip_, &TakeStrip::graftWanted, this, &TakesMenu::graft);
}

void TakesMenu::addChoosing(QMenu* menu, Actions& actions) {
    const auto add = [&](const char* name, const QString& text, const QString& keys, std::function<void()> call) {
        menu->addAction(actions.add(QLatin1String(name), text, QKeySequence(keys), std::move(call)));
    };
    add("choose-bar", tr("Choose the &bar at the cursor"), tr("B"), [this] { chooseBar(false); });
    add("choose-more", tr("Choose one bar more"), tr("Shift+B"), [this] { chooseBar(true); });
    add(names::nextTake, tr("The &next take here"), tr("T"), [this] { layNext(1); });
    add("previous-take", tr("The previous take here"), tr("Shift+T"), [this] { layNext(-1); });
    add(names::keepTry, tr("Keep as a &try"), tr("Y"), [this] { keepTry(); });
    add("next-try", tr("The next try here"), tr("Shift+Y"), [this] { layNextTry(); });
    auto* rates = menu->addMenu(tr("&Rate"));
    for (int marks = 0; marks <= maxMarks; ++marks)
        rates->addAction(actions.add(QStringLiteral("rate-%1").arg(marks),
                                     marks == 0 ? tr("No marks") : tr("%1 of %2 marks").arg(marks).arg(maxMarks),
                                     QKeySequence(tr("R, %1").arg(marks)), [this, marks] { rate(marks); }));
    add(names::layRated, tr("Lay the best rated bars together"), {}, [this] { layRated(); });
    add(names::suggestComp, tr("&Suggest a comp"), {}, [this] { suggest(); });
    add("loop-chosen", tr("&Loop what is chosen"), tr("Ctrl+L"), [this] {
        const auto chosen = range();
        emit sheet_.loopChosen({asResult(chosen.begin), asResult(chosen.end)});
        sheet_.setLoop({asResult(chosen.begin), asResult(chosen.end)});
    });
}

void TakesMenu::addGrafts(QMenu* menu, Actions& actions) {
    menu->addAction(actions.add(QStringLiteral("pick-up"), tr("Pick up for a &graft"), QKeySequence(tr("G")),
                                [this] { pickUp(); }));
    menu->addAction(actions.add(QStringLiteral("drop-graft"), tr("Graft it in at the chosen bar"),
                                QKeySequence(tr("Shift+G")), [this] { drop(); }));
    menu->addAction(actions.add(QStringLiteral("to-source"), tr("Where this c&ame from"), QKeySequence(tr("O")),
                                [this] { goToSource(); }));
    menu->addAction(actions.add(QStringLiteral("from-source"), tr("Back to where it sounds"),
                                QKeySequence(tr("Shift+O")), [this] { goBack(); }));
}

void TakesMenu::addBorders(QMenu* menu, Actions& actions) {
    menu->addAction(actions.add(QStringLiteral("next-border"), tr("Ne&xt border"), QKeySequence(tr("N")),
                                [this] { stepBorder(1); }));
    menu->addAction(actions.add(QStringLiteral("previous-border"), tr("Previous border"),
                                QKeySequence(tr("Shift+N")), [this] { stepBorder(-1); }));
    menu->addAction(actions.add(QStringLiteral("border-earlier"), tr("Border earlier"),
                                QKeySequence(tr("Ctrl+Shift+Left")), [this] { moveBorder(-1); }));
    menu->addAction(actions.add(QStringLiteral("border-later"), tr("Border later"),
                                QKeySequence(tr("Ctrl+Shift+Right")), [this] { moveBorder(1); }));
}

void TakesMenu::addBars(QMenu* menu, Actions& actions) {
    const auto add = [&](const char* name, const QString& text, std::function<Edit(int first, int count)> edit) {
        menu->addAction(actions.add(QLatin1String(name), text, {}, [this, edit = std::move(edit)] {
            if (refuseEmpty())
                return;
            const auto [first, count] = bars();
            document_.perform(edit(first, count));
        }));
    };
    add("insert-bars", tr("&Insert as many empty bars before"), [](int first, int count) {
        return Edit(InsertBars{first, count});
    });
    add("repeat-bars", tr("R&epeat these bars"), [](int first, int count) {
        return Edit(RepeatBars{first, count});
    });
    add("delete-bars", tr("&Delete these bars from the song"), [](int first, int count) {
        return Edit(DeleteBars{first, count});
    });
    menu->addAction(actions.add(QStringLiteral("lay-silence"), tr("Silence here"), {}, [this] {
        if (!refuseEmpty())
            document_.perform(Lay{range(), std::nullopt});
    }));
}

bool TakesMenu::refuseEmpty() {
    if (range().empty())
        emit notified(tr("Choose a range first: sweep over the comp, or press B for the bar at the cursor"));
    return range().empty();
}

Range<SongFrame> TakesMenu::range() const {
    const TakesState& state = strip_.state();
    if (document_.session().empty())
        return {};
    if (!state.range.empty())
        return state.range;
    if (const auto loop = sheet_.state().loop; !loop.empty())
        return {asSong(loop.begin), asSong(loop.end)};
    return state.barAround(asSong(player_.cursor()));
}

/// That of the chosen row, or the one that sounds where the range begins.
std::optional<TakeIndex> TakesMenu::wantedTake() {
    if (refuseEmpty())
        return std::nullopt;
    const Comp& comp = document_.session().comp;
    const auto take = strip_.state().row ? strip_.state().row : comp.passages[comp.at(range().begin)].take;
    if (!take)
        emit notified(noTakeSounds());
    return take;
}

std::pair<int, int> TakesMenu::bars() const {
    const MusicalMap map(document_.session().map, document_.session().rate);
    const int first = map.barAt(range().begin);
    const int last = map.barAt(range().end - FrameCount{1});
    return {first, last - first + 1};
}

void TakesMenu::chooseBar(bool more) {
    const TakesState& state = strip_.state();
    if (document_.session().empty())
        return;
    const auto chosen = state.range;
    const auto bar = state.barAround(more && !chosen.empty() ? chosen.end : asSong(player_.cursor()));
    strip_.choose(state.row, more && !chosen.empty() ? Range<SongFrame>{chosen.begin, bar.end} : bar);
}

void TakesMenu::layNext(int step) {
    const Session& session = document_.session();
    if (session.takes.size() < 2)
        return emit notified(tr("There is no other take: bring in more takes of the same mics"));
    const auto chosen = range();
    const auto now = session.comp.passages[session.comp.at(chosen.begin)].take.value_or(TakeIndex{});
    const auto count = static_cast<int>(session.takes.size());
    const TakeIndex next{static_cast<std::size_t>((static_cast<int>(now.value) + step + count) % count)};
    strip_.choose(next, chosen);
    document_.perform(Lay{chosen, next});
}

void TakesMenu::keepTry() {
    if (!refuseEmpty())
        document_.perform(KeepTry{range()});
}

/// The tries that overlap the range, in turn: the one behind what sounds now.
void TakesMenu::layNextTry() {
    const Session& session = document_.session();
    std::vector<std::size_t> here;
    std::size_t sounding = 0;
    for (std::size_t i = 0; i < session.tries.size(); ++i) {
        const Try& kept = session.tries[i];
        if (kept.range.intersected(range()).empty())
            continue;
        here.push_back(i);
        if (session.comp.inside(kept.range) == kept.passages)
            sounding = here.size();
    }
    if (here.empty())
        return emit notified(tr("No try is kept here: Y keeps what sounds in the chosen range"));
    document_.perform(LayTry{here[sounding % here.size()]});
}

void TakesMenu::rate(int marks) {
    const auto take = wantedTake();
    if (!take)
        return;
    const Session& session = document_.session();
    const auto [first, count] = bars();
    document_.perform(Rate{session.takes[*take].letter, first, count, marks});
}

void TakesMenu::suggest() {
    if (!document_.session().empty())
        document_.perform(
            suggestedCompEdit(document_.session(), measureTakes(document_.session(), document_.outcome())));
}

void TakesMenu::layRated() {
    if (document_.session().ratings.empty())
        return emit notified(tr("No bar is rated yet: R and 1 to 3 rates the chosen bars of a take"));
    document_.perform(ratedCompEdit(document_.session()));
}

void TakesMenu::lineUp(TakeIndex take, TakeIndex with) {
    const auto edit = alignTakesEdit(document_.session(), document_.outcome(), take, with);
    edit ? void(document_.perform(*edit)) : emit notified(QString::fromStdString(edit.error().sentence));
}

void TakesMenu::graft(TakeIndex take, Range<SongFrame> from, SongFrame to, bool exactly) {
    const auto edit = graftEdit(document_.session(), document_.outcome(), {take, from}, to, exactly);
    if (!edit)
        return emit notified(QString::fromStdString(edit.error().sentence));
    const auto target = std::get<Lay>(std::get<TakeEdit>(*edit)).range;
    strip_.choose(take, target);
    document_.perform(*edit);
}

void TakesMenu::pickUp() {
    const auto take = wantedTake();
    if (!take)
        return;
    const Session& session = document_.session();
    pickedUp_ = PickedUp{*take, range()};
    emit notified(tr("Picked up %1 of take %2: choose a bar and press Shift+G")
                      .arg(rangeWords(session, range()))
                      .arg(QLatin1Char(session.takes[*take].letter.value)));
}

void TakesMenu::drop() {
    if (!pickedUp_ || pickedUp_->take >= document_.session().takes.size())
        return emit notified(tr("Pick up a range first: choose it in a take's row and press G"));
    graft(pickedUp_->take, pickedUp_->range, range().begin, false);
}

void TakesMenu::go(SongFrame at) {
    player_.setCursor(asResult(at));
    sheet_.reveal(asResult(at));
}

/// To the place where the material at the cursor was played, with its row chosen.
void TakesMenu::goToSource() {
    const Session& session = document_.session();
    const SongFrame at = asSong(player_.cursor());
    const auto piece = session.empty() ? std::nullopt : pieceAt(session, at);
    if (!piece || !piece->take)
        return emit notified(noTakeSounds());
    const auto own = songPlace(session.form, piece->sourceAt(at) + session.takes[*piece->take].shift());
    if (!own)
        return emit notified(tr("It was played in a bar that was deleted"));
    cameFrom_ = at;
    const auto length = piece->range.length();
    const SongFrame begin = *own - (at - piece->range.begin);
    strip_.choose(piece->take, {std::max(begin, SongFrame{0}), begin + length});
    go(*own);
    emit notified(sourceWords(session, at));
}

/// To where the chosen row's material at the cursor sounds in the result.
void TakesMenu::goBack() {
    const Session& session = document_.session();
    if (session.empty())
        return;
    const SongFrame at = asSong(player_.cursor());
    const auto take = strip_.state().row;
    const auto moved = movedAt(session.form, at);
    std::vector<SongFrame> places;
    if (take && moved)
        for (const Piece& piece : piecesOf(session)) {
            const SongFrame place = at - (session.takes[*take].shift() + *moved) + piece.shift;
            if (piece.take == take && piece.range.contains(place))
                places.push_back(place);
        }
    if (places.empty())
        return emit notified(tr("This does not sound in the comp"));
    const bool known = cameFrom_ && std::find(places.begin(), places.end(), *cameFrom_) != places.end();
    go(known ? *cameFrom_ : places.front());
}

void TakesMenu::stepBorder(int step) {
    const auto& passages = document_.session().comp.passages;
    const SongFrame cursor = asSong(player_.cursor());
    const auto chosen = strip_.state().border;
    int next = 0;
    if (chosen)
        next = static_cast<int>(*chosen) + step;
    else if (step > 0)
        next = static_cast<int>(document_.session().comp.at(cursor)) + 1;
    else
        next = static_cast<int>(document_.session().comp.at(cursor));
    if (next < 1 || next >= static_cast<int>(passages.size()))
        return emit notified(tr("There is no border any more in that direction"));
    strip_.chooseBorder(static_cast<std::size_t>(next));
    go(passages[static_cast<std::size_t>(next)].begin);
}

void TakesMenu::moveBorder(int step) {
    const auto border = strip_.state().border;
    const Session& session = document_.session();
    if (!border)
        return emit notified(tr("Choose a border first: N goes to the next"));
    const MusicalMap map(session.map, session.rate);
    const SongFrame now = session.comp.passages[*border].begin;
    const BarBeat place = map.barBeat(now);
    SongFrame to = now + FrameCount{step * toFrames(Milliseconds{1}, session.rate).frames};
    if (strip_.state().snap == Snap::bars) {
        to = map.barStart(place.bar + (step > 0 ? 1 : place.beat > 1.005 ? 0 : -1));
    } else if (strip_.state().snap == Snap::cuts) {
        const auto& landings = document_.outcome().landings;
        const auto after = std::partition_point(landings.begin(), landings.end(), [&](const Landing& l) {
            return step > 0 ? l.meant <= now : l.meant < now;
        });
        if (step > 0 ? after != landings.end() : after != landings.begin())
            to = (step > 0 ? after : std::prev(after))->meant;
    }
    document_.perform(MoveBorder{*border, to});
}

} // namespace lampo
