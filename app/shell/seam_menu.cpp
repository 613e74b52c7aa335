#include "shell/seam_menu.h"

#include "advice/seam_shapes.h"

#include <QMenu>

#include <algorithm>

namespace lampo {
namespace {

constexpr Milliseconds step{1};
constexpr Milliseconds runOut{500}; ///< heard behind the seam
constexpr int patience = 250;       ///< ms after a change before it is played by itself

} // namespace

QString SeamMenu::chooseFirst() {
    return tr("Choose a seam first: F7 steps through them, and so does the table of Seams");
}

SeamMenu::SeamMenu(const ActionMenu& where, Document& document, SheetWidget& sheet, PlayerControl& player,
                   SeamListening& listening)
    : QObject(where.menu), document_(document), sheet_(sheet), player_(player), listening_(listening) {
    addWalk(where);
    where.menu->addSeparator();
    addListening(where);
    where.menu->addSeparator();
    addShapes(where);
    connect(&sheet_, &SheetWidget::seamsChosen, this, [this] { gesture_ = Document::newGesture(); });
    connect(&document_, &Document::changed, this, &SeamMenu::seamChanged);
    connect(&sheet_, &SheetWidget::seamsChosen, this, &SeamMenu::seamChanged);
    connect(&listening_, &SeamListening::alone, &player_, &PlayerControl::playAlone);
    again_.setObjectName(QStringLiteral("Play the seam again"));
    again_.setSingleShot(true);
    again_.setInterval(patience);
    connect(&again_, &QTimer::timeout, this, [this] {
        if (const auto stretch = sheet_.state().seam ? around() : std::nullopt)
            emit stretchWanted(*stretch);
    });
}

void SeamMenu::addWalk(const ActionMenu& where) {
    const auto walk = [this](int by) {
        emit stopWanted();
        sheet_.stepSeam(by);
    };
    where.add("next-seam", tr("&Next seam"), tr("F7"), [walk] { walk(1); });
    where.add("previous-seam", tr("&Previous seam"), tr("Shift+F7"), [walk] { walk(-1); });
    where.add("seams-of-kind", tr("Choose all of this &kind"), {}, [this] {
        chooseLike([](const Seam& seam, const Seam& chosen) { return seam.kind == chosen.kind; });
    });
    where.add("seams-of-section", tr("Choose all in this se&ction"), {}, [this] {
        const Session& session = document_.session();
        const MusicalMap map(session.map, session.rate);
        chooseLike([&](const Seam& seam, const Seam& chosen) {
            const auto sectionOf = [&](const Seam& one) {
                return session.sectionOf(map.barAt(asSong(one.range.end)));
            };
            return sectionOf(seam) == sectionOf(chosen);
        });
    });
}

void SeamMenu::addListening(const ActionMenu& where) {
    where.add("loop-seam", tr("&Loop around the seam"), tr("F9"), [this] {
        if (const auto stretch = around())
            emit loopWanted(*stretch);
    });
    where.add("play-seam", tr("Play &once around the seam"), tr("Shift+F9"), [this] {
        if (const auto stretch = around())
            emit stretchWanted(*stretch);
    });
    const auto addSwitch = [&](const char* name, const QString& text, const QString& keys, const QString& tip) {
        auto* made = where.actions.addSwitch(QString::fromLatin1(name), text, QKeySequence(keys), false,
                                             [this](bool) { hearJoints(); });
        made->setToolTip(tip);
        where.menu->addAction(made);
        return made;
    };
    ruled_ = addSwitch("hear-ruled", tr("&Hear all seams by rule"), tr("Ctrl+F9"),
                       tr("Before and after: each seam where the rule would put it, without search and hand"));
    raw_ = addSwitch("hear-raw", tr("Hear and see the &cuts alone"), tr("Ctrl+Shift+H"),
                     tr("As landed, without fills and fades: holes stay open, so that the timing alone is judged"));
    // One of them at most.
    connect(ruled_, &QAction::toggled, raw_, [this](bool on) { raw_->setChecked(raw_->isChecked() && !on); });
    connect(raw_, &QAction::toggled, ruled_, [this](bool on) { ruled_->setChecked(ruled_->isChecked() && !on); });
}

void SeamMenu::hearJoints() {
    player_.playJoints(raw_->isChecked()     ? PlayerControl::Joints::cutsAlone
                       : ruled_->isChecked() ? PlayerControl::Joints::byRule
                                             : PlayerControl::Joints::asEdited);
    sheet_.setRaw(raw_->isChecked());
}

void SeamMenu::addShapes(const ActionMenu& where) {
    const auto by = [this](int steps) {
        return FrameCount{steps * toFrames(step, document_.session().rate).frames};
    };
    where.add("seam-earlier", tr("1 ms &earlier"), tr("Shift+PgUp"), [this, by] {
        shape([&](const Session& session, auto seams) { return movedSeams(session, seams, by(-1)); });
    });
    where.add("seam-later", tr("1 ms l&ater"), tr("Shift+PgDown"), [this, by] {
        shape([&](const Session& session, auto seams) { return movedSeams(session, seams, by(1)); });
    });
    where.add("seam-longer", tr("1 ms longe&r"), tr("Ctrl+PgUp"), [this, by] {
        shape([&](const Session& session, auto seams) { return begunLater(session, seams, by(-1)); });
    });
    where.add("seam-shorter", tr("1 ms &shorter"), tr("Ctrl+PgDown"), [this, by] {
        shape([&](const Session& session, auto seams) { return begunLater(session, seams, by(1)); });
    });
    where.add("reset-seam", tr("Place by sound a&gain"), tr("Ctrl+F7"),
              [this] { shape([](const Session& session, auto seams) { return resetSeams(session, seams); }); });
}

void SeamMenu::chooseLike(const std::function<bool(const Seam& seam, const Seam& chosen)>& isLike) {
    const auto current = sheet_.state().seam;
    if (!current)
        return emit notified(chooseFirst());
    const auto& all = document_.outcome().plan->seams;
    std::vector<SeamIndex> like;
    for (SeamIndex seam; seam < all.size(); ++seam)
        if (isLike(all[seam], all[*current]))
            like.push_back(seam);
    sheet_.chooseSeams(std::move(like), current);
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

std::optional<Range<ResultFrame>> SeamMenu::around() {
    if (!sheet_.state().seam) {
        emit notified(chooseFirst());
        return std::nullopt;
    }
    const Range<ResultFrame> seam = document_.outcome().plan->seams[*sheet_.state().seam].range;
    const SampleRate rate = document_.session().rate;
    return Range<ResultFrame>{std::max(ResultFrame{0}, seam.begin - toFrames(listening_.runUp(), rate)),
                              seam.end + toFrames(runOut, rate)};
}

/// The chosen seam is played again when it is not as it was.
void SeamMenu::seamChanged() {
    const auto& index = sheet_.state().seam;
    const auto& seams = document_.outcome().plan->seams;
    const auto before =
        std::exchange(shown_, index && *index < seams.size() ? std::optional(seams[*index]) : std::nullopt);
    if (listening_.afterChange() && before && shown_ && before->between && before->between == shown_->between &&
        *before != *shown_)
        again_.start();
}

} // namespace lampo
