#pragma once

#include "sheet/sheet_widget.h"
#include "stops/panel.h"

namespace lampo {

class FeelPage;
class HandPage;
class Pages;

/// The stop Timing: the grid, feel and work by hand, each a page, and what they do in figures.
class TimingPanel : public Panel {
    Q_OBJECT
public:
    TimingPanel(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);
    QString state() const override;

    enum class Page { grid, feel, byHand };
    void turnTo(Page page);
    HandPage& byHand() { return *hand_; }
    FeelPage& feel() { return *feel_; }

signals:
    void notified(const QString& sentence);

private:
    Pages* pages_;
    HandPage* hand_;
    FeelPage* feel_;
};

} // namespace lampo
