#pragma once

#include "advice/take_advice.h"
#include "stops/panel.h"
#include "takes/take_strip.h"

class QPushButton;

namespace lampo {

/// The chosen border between two takes: its fade, and what is advised. Hidden while none is chosen.
class BorderPage : public Panel {
    Q_OBJECT
public:
    BorderPage(Document& document, TakeStrip& strip, QWidget* parent = nullptr);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void addFade();
    void addAdvice();
    std::optional<std::size_t> border() const;
    void fill();

    TakeStrip& strip_;
    QLabel* place_ = nullptr;
    QLabel* advice_ = nullptr;
    QPushButton* useFade_ = nullptr;
    QPushButton* useStroke_ = nullptr;
    std::optional<BorderAdvice> advised_;
    std::pair<SongFrame, std::shared_ptr<const Plan>> advisedFor_;
};

} // namespace lampo
