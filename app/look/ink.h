#pragma once

#include "session/session.h"

#include <QColor>
#include <QFont>
#include <QPalette>

namespace lampo {

/// The colours of one theme. Text colours keep a contrast of at least 4.5 : 1 on paper (tst_look measures it).
struct Ink {
    bool night = false;
    QColor paper;  ///< background of the sheet
    QColor margin; ///< of panels and bars, a shade off
    QColor text;
    QColor faint; ///< secondary text
    QColor rule;  ///< thin engraved lines
    QColor barLine;
    QColor wave;   ///< waveform of a follower
    QColor pocket; ///< shaded bands
    QColor accent; ///< selection, playhead, focus
    QColor alarm;

    QColor of(Voice voice) const;
    /// By its own tint, or by its place among the takes.
    QColor ofTake(const Session& session, TakeIndex take) const;
    QColor ofTint(int tint) const;
    QPalette palette() const;
};

Ink paperInk();
Ink nightInk();

/// The embedded family, loaded on first use; sizes are relative to the desktop's own font size.
QFont textFont(double relativeSize = 1.0, bool bold = false);

/// The style sheet that makes Qt's controls look printed.
QString controlStyle(const Ink& ink);

} // namespace lampo
