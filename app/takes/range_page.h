#pragma once

#include "stops/panel.h"
#include "takes/take_strip.h"

class QTableWidget;

namespace lampo {

/// What the chosen range is like in each take, and what can be done with it.
class RangePage : public Panel {
    Q_OBJECT
public:
    RangePage(Document& document, TakeStrip& strip, QWidget* parent = nullptr);

signals:
    void triggered(const char* action); ///< one of the menu's actions, by name

private:
    void addTable();
    void addButtons();
    void fill();

    TakeStrip& strip_;
    QLabel* chosen_ = nullptr;
    QTableWidget* measures_ = nullptr;
};

} // namespace lampo
