#pragma once

#include "stops/panel.h"
#include "takes/take_strip.h"

class QGridLayout;

namespace lampo {

/// The takes, one below the other: tint, note and start of each.
class TakeRows : public Panel {
    Q_OBJECT
public:
    TakeRows(Document& document, TakeStrip& strip, QWidget* parent = nullptr);

signals:
    void lineUpWanted(TakeIndex take, TakeIndex with);

private:
    void fill();
    void addRow(TakeIndex take);

    TakeStrip& strip_;
    QGridLayout* grid_ = nullptr;
    std::vector<std::function<void()>> rows_;
    std::size_t rowsFor_ = 0;
};

} // namespace lampo
