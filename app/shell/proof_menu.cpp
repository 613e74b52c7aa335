#include "shell/proof_menu.h"

#include <QMenu>

#include <algorithm>

namespace lampo {
namespace {

constexpr Milliseconds runOut{700};     ///< heard behind a place
constexpr Milliseconds leastShown{400}; ///< of the song, so that a click is seen in its surroundings

} // namespace

ProofMenu::ProofMenu(const ActionMenu& where, Document& document, ProofPanel& proof, SheetWidget& sheet,
                     PlayerControl& player)
    : QObject(where.menu), document_(document), proof_(proof), sheet_(sheet), player_(player) {
    addWalk(where);
    where.menu->addSeparator();
    addAnswers(where);
    where.menu->addSeparator();
    addComparing(where);
    connect(&proof_.places(), &PlacesPage::placeChosen, this, &ProofMenu::show);
    connect(&proof_.comparison(), &ComparePage::placeChosen, this, [this](ResultFrame at) {
        sheet_.reveal(at);
        player_.setCursor(at);
    });
    connect(&proof_.comparison(), &ComparePage::wished, this, [this](const ComparePage::Wish& wish) {
        player_.compare(wish.comparison);
        player_.monitor(wish.heard);
    });
}

void ProofMenu::addWalk(const ActionMenu& where) {
    const auto walk = [this](int step) {
        emit stopWanted();
        proof_.places().go(step);
    };
    where.add("next-place", tr("&Next place"), tr("F8"), [walk] { walk(1); });
    where.add("previous-place", tr("&Previous place"), tr("Shift+F8"), [walk] { walk(-1); });
    where.add("open-places", tr("&Each place of the entry, or all as one"), tr("Ctrl+F8"),
              [this] { proof_.places().openEntry(); });
    where.add("play-place", tr("Play the place &with its run-up"), tr("Alt+F8"), [this] {
        if (const auto place = proof_.places().chosenPlace())
            emit stretchWanted(around(*place));
    });
    where.add("loop-place", tr("&Loop around the place"), tr("Alt+Shift+F8"), [this] {
        if (const auto place = proof_.places().chosenPlace())
            emit loopWanted(around(*place));
    });
}

void ProofMenu::addAnswers(const ActionMenu& where) {
    where.add("place-fine", tr("It is &fine"), tr("Ctrl+J"), [this] { proof_.places().answer(ProofState::fine); });
    where.add("place-later", tr("La&ter"), tr("Ctrl+Shift+J"),
              [this] { proof_.places().answer(ProofState::later); });
    where.add("place-open", tr("&Open again"), {}, [this] { proof_.places().answer(ProofState::open); });
    where.add("mend-place", tr("&Mend it by the first button"), tr("Ctrl+M"), [this] { proof_.places().mend(); });
}

void ProofMenu::addComparing(const ActionMenu& where) {
    where.add("hear-this-or-that", tr("Hear the one, or the othe&r"), tr("C"),
              [this] { proof_.comparison().hearOther(); });
    where.add("hear-difference", tr("Hear how they &differ"), tr("Shift+C"),
              [this] { proof_.comparison().hearDifference(); });
    where.add("end-comparing", tr("Hear the edit &again"), {}, [this] { proof_.comparison().leave(); });
}

Range<ResultFrame> ProofMenu::around(Range<ResultFrame> place) const {
    const SampleRate rate = document_.session().rate;
    return {std::max(ResultFrame{0}, place.begin - toFrames(proof_.places().runUp(), rate)),
            place.end + toFrames(runOut, rate)};
}

void ProofMenu::show(Range<ResultFrame> place) {
    const FrameCount least = toFrames(leastShown, document_.session().rate);
    const FrameCount margin = std::max(scaled(place.length(), 0.25), scaled(least - place.length(), 0.5));
    sheet_.showRange(static_cast<double>((place.begin - margin).frame),
                     static_cast<double>((place.end + margin).frame));
    player_.setCursor(around(place).begin);
    if (!proof_.places().playsChosen())
        return;
    if (proof_.places().loopsChosen())
        emit loopWanted(around(place));
    else
        emit stretchWanted(around(place));
}

} // namespace lampo
