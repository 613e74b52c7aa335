#pragma once

#include "document/document.h"
#include "look/actions.h"
#include "sheet/sheet_widget.h"

#include <QObject>

class QMenu;

namespace lampo {

class HandPage;
class PlayerControl;

/// The menu Hits: corrections of the chosen hits, steps from hit to hit, and listening to one. Every correction is
/// one undoable step, however many hits are chosen.
class HitMenu : public QObject {
    Q_OBJECT
public:
    HitMenu(const ActionMenu& made, Document& document, SheetWidget& sheet, HandPage& hand, PlayerControl& player);

    void stepHit(int step);
    /// To the next candidate that lies within 6 dB of its threshold: those are worth a look.
    void stepWeak(int step);

signals:
    void notified(const QString& sentence);

private:
    void addCorrections(QMenu* menu, Actions& actions);
    void addShapes(QMenu* menu, Actions& actions);
    void addNudges(QMenu* menu, Actions& actions);
    void addAuditioning(QMenu* menu, Actions& actions);

    /// One correction of this kind for each chosen hit; says so when none is.
    void correct(Correction::Kind kind, const std::function<void(Correction&, HitIndex hit)>& complete = {});
    void addAtPointer(bool exactly);
    struct Pointed {
        TakeIndex take;
        SourceFrame at;
        std::optional<MicIndex> lane; ///< none: the pointer is elsewhere
    };
    std::optional<Pointed> pointedAt() const;
    void cutAtPointer();
    void remove();
    void forget();
    void join();
    void nudge(FrameCount by);
    void moveStart(FrameCount by);
    void audition(bool wholeSlice, bool oneMic);
    void fillAnchors(QMenu* menu);

    Document& document_;
    SheetWidget& sheet_;
    HandPage& hand_;
    PlayerControl& player_;
    int nudgeGesture_ = 0;
};

} // namespace lampo
