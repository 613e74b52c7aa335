#pragma once

#include "stops/panel.h"
#include "takes/take_strip.h"

namespace lampo {

class DropList;

/// Ways to fill a stretch that were kept: laid by a click. Hidden while there are none.
class TriesPage : public Panel {
    Q_OBJECT
public:
    TriesPage(Document& document, TakeStrip& strip, QWidget* parent = nullptr);

private:
    void fill();

    TakeStrip& strip_;
    DropList* tries_ = nullptr;
};

} // namespace lampo
