#pragma once

#include "stops/panel.h"
#include "takes/take_strip.h"

namespace lampo {

/// The takes, the range that is chosen, tries, and the border that is chosen.
class TakesPanel : public Panel {
    Q_OBJECT
public:
    TakesPanel(Document& document, TakeStrip& strip, QWidget* parent = nullptr);
    QString state() const override;

signals:
    void lineUpWanted(TakeIndex take, TakeIndex with);
    void triggered(const char* action); ///< one of the menu's actions, by name
};

} // namespace lampo
