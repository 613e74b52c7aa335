#pragma once

#include "document/player_control.h"
#include "look/actions.h"
#include "sheet/sheet_widget.h"
#include "stops/seams/listening.h"

#include <QTimer>

namespace lampo {

/// What can be done with seams from the keyboard: walk them, hear them in a loop, shift and shape them.
class SeamMenu : public QObject {
    Q_OBJECT
public:
    SeamMenu(const ActionMenu& where, Document& document, SheetWidget& sheet, PlayerControl& player,
             SeamListening& listening);

signals:
    /// A seam is to be seen: its stop is wanted.
    void stopWanted();
    /// This stretch is to be played over and over.
    void loopWanted(lampo::Range<lampo::ResultFrame> stretch);
    /// This stretch is to be played once.
    void stretchWanted(lampo::Range<lampo::ResultFrame> stretch);
    void notified(const QString& sentence);

private:
    using Change = std::function<ShapeSeams(const Session& session, std::span<const Seam> seams)>;
    void shape(const Change& change);
    void addWalk(const ActionMenu& where);
    void addShapes(const ActionMenu& where);
    void addListening(const ActionMenu& where);
    /// From the run-up to a little behind the seam that keys speak of; none: none is chosen, and that was told.
    std::optional<Range<ResultFrame>> around();
    void seamChanged();
    /// As the two switches say.
    void hearJoints();
    /// All that are like the one that keys speak of.
    void chooseLike(const std::function<bool(const Seam& seam, const Seam& chosen)>& isLike);
    static QString chooseFirst();
    /// Those of the chosen ones that can be shaped.
    std::vector<Seam> chosen() const;

    Document& document_;
    SheetWidget& sheet_;
    PlayerControl& player_;
    SeamListening& listening_;
    std::optional<Seam> shown_; ///< as it was before the change
    QAction* ruled_ = nullptr;
    QAction* raw_ = nullptr;
    QTimer again_{this}; ///< to play it after the last of several changes
    int gesture_ = 0;    ///< of keys pressed one after another
};

} // namespace lampo
