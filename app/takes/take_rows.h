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
    void lineUpWanted(std::size_t take, std::size_t with);

private:
    void fill();
    void addRow(std::size_t take);

    TakeStrip& strip_;
    QGridLayout* grid_ = nullptr;
    std::vector<std::function<void()>> rows_;
    std::size_t rowsFor_ = 0;
};

} // namespace lampo
