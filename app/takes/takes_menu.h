#pragma once

#include "look/actions.h"
#include "takes/take_strip.h"

class QMenu;

namespace lampo {

class PlayerControl;

/// What can be done with takes: choosing by key while the sound goes on, tries, ratings, grafts, borders, and bars
/// of the song.
class TakesMenu : public QObject {
    Q_OBJECT
public:
    TakesMenu(const ActionMenu& made, Document& document, TakeStrip& strip, SheetWidget& sheet,
              PlayerControl& player);

    void layNext(int step);
    void keepTry();
    void layNextTry();
    void rate(int marks);
    void suggest();
    void layRated();
    void lineUp(TakeIndex take, TakeIndex with);
    void graft(TakeIndex take, Range<SongFrame> from, SongFrame to, bool exactly);
    /// What keys speak of: what is chosen, what loops, or the bar at the cursor. Empty without a song.
    Range<SongFrame> range() const;

signals:
    void notified(const QString& sentence);

private:
    void addChoosing(QMenu* menu, Actions& actions);
    void addGrafts(QMenu* menu, Actions& actions);
    void addBorders(QMenu* menu, Actions& actions);
    void addBars(QMenu* menu, Actions& actions);
    void chooseBar(bool more);
    void stepBorder(int step);
    void moveBorder(int step);
    void pickUp();
    void drop();
    void goToSource();
    void goBack();
    void go(SongFrame at);
    /// Whole bars of the range.
    std::pair<int, int> bars() const;
    /// The take whose row is chosen, or the one that sounds there; none where there is neither, which was told.
    std::optional<TakeIndex> wantedTake();
    bool refuseEmpty();

    Document& document_;
    TakeStrip& strip_;
    SheetWidget& sheet_;
    PlayerControl& player_;
    struct PickedUp {
        TakeIndex take;
        Range<SongFrame> range;
    };
    std::optional<PickedUp> pickedUp_;
    std::optional<SongFrame> cameFrom_; ///< the place in the result that was left for its source
};

} // namespace lampo
