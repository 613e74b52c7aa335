#include "shell/seam_menu.h"

#include "advice/seam_shapes.h"

#include <QMenu>

#include <algorithm>

namespace lampo {
namespace {

constexpr Milliseconds step{1};
constexpr Milliseconds runUp{1000}; ///< heard before the seam
constexpr Milliseconds runOut{500}; ///< and behind it

} // namespace

QString SeamMenu::chooseFirst() {
    return tr("Choose a seam first: F7 steps through them, and so does the table of Seams");
}

SeamMenu::SeamMenu(const ActionMenu& where, Document& document, SheetWidget& sheet)
    : QObject(where.menu), document_(document), sheet_(sheet) {
    const auto add = [&](const char* name, const QString& text, const QString& keys, std::function<void()> call) {
        where.menu->addAction(
            where.actions.add(QString::fromLatin1(name), text, QKeySequence(keys), std::move(call)));
    };
    const auto walk = [this](int by) {
        emit stopWanted();
        sheet_.stepSeam(by);
    };
    add("next-seam", tr("&Next seam"), tr("F7"), [walk] { walk(1); });
    add("previous-seam", tr("&Previous seam"), tr("Shift+F7"), [walk] { walk(-1); });
    add("loop-seam", tr("&Loop around the seam"), tr("F9"), [this] { loopAround(); });
    where.menu->addSeparator();
    const auto by = [this](int steps) {
        return FrameCount{steps * toFrames(step, document_.session().rate).frames};
    };
    add("seam-earlier", tr("1 ms &earlier"), tr("Shift+PgUp"), [this, by] {
        shape([&](const Session& session, auto seams) { return movedSeams(session, seams, by(-1)); });
    });
    add("seam-later", tr("1 ms l&ater"), tr("Shift+PgDown"), [this, by] {
        shape([&](const Session& session, auto seams) { return movedSeams(session, seams, by(1)); });
    });
    add("seam-longer", tr("1 ms l&onger"), tr("Ctrl+PgUp"), [this, by] {
        shape([&](const Session& session, auto seams) { return begunLater(session, seams, by(-1)); });
    });
    add("seam-shorter", tr("1 ms &shorter"), tr("Ctrl+PgDown"), [this, by] {
        shape([&](const Session& session, auto seams) { return begunLater(session, seams, by(1)); });
    });
    add("reset-seam", tr("Place by sound aby sound a&gaingain"), tr("Ctrl+F7"),
        [this] { shape([](const Session& session, auto seams) { return resetSeams(session, seams); }); });
    connect(&sheet_, &SheetWidget::seamsChosen, this, [this] { gesture_ = Document::newGesture(); });
}

std::vector<Seam> SeamMenu::chosen() const {
    std::vector<Seam> seams;
    for (const SeamIndex seam : sheet_.state().seams)
        if (const Seam& one = document_.outcome().plan->seams[seam]; canBeShaped(one))
            seams.push_back(one);
    return seams;
}

void SeamMenu::shape(const Change& change) {
    const auto seams = chosen();
    if (seams.empty())
        return emit notified(sheet_.state().seams.empty()
                                 ? chooseFirst()
                                 : tr("A border, a repeated tail and the end of a take cannot be shaped"));
    document_.perform(SeamEdit{change(document_.session(), seams)}, gesture_);
}

void SeamMenu::loopAround() {
    if (!sheet_.state().seam)
        return emit notified(chooseFirst());
    const Range<ResultFrame> seam = document_.outcome().plan->seams[*sheet_.state().seam].range;
    const SampleRate rate = document_.session().rate;
    const ResultFrame begin = std::max(ResultFrame{0}, seam.begin - toFrames(runUp, rate));
    emit loopWanted({begin, seam.end + toFrames(runOut, rate)});
}

} // namespace lampo
