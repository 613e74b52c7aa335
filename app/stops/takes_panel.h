#pragma once

#include "stops/panel.h"
#include "takes/take_strip.h"

class QComboBox;
class QGridLayout;
class QPushButton;
class QTableWidget;

namespace lampo {

class DropList;
class TakesMenu;

/// The takes with their tint, note and start; what the chosen range is like in each; tries; the chosen border.
class TakesPanel : public Panel {
    Q_OBJECT
public:
    TakesPanel(Document& document, TakeStrip& strip, QWidget* parent = nullptr);
    QString state() const override;

signals:
    void lineUpWanted(std::size_t take, std::size_t with);
    void triggered(const char* action); ///< one of the menu's actions, by name

protected:
    void showEvent(QShowEvent* event) override;

private:
    void addTakes();
    void addRange();
    void addTries();
    void addBorder();
    void showTakes();
    void addTakeRow(std::size_t take);
    void showRange();
    void showTries();
    void showBorder();
    BarMeasure measured(std::size_t take, int first, int last) const;

    TakeStrip& strip_;
    QGridLayout* grid_ = nullptr;
    std::vector<std::function<void()>> rows_;
    std::size_t rowsFor_ = 0;
    QLabel* chosen_ = nullptr;
    QTableWidget* measures_ = nullptr;
    QWidget* triesBox_ = nullptr;
    DropList* tries_ = nullptr;
    QWidget* borderBox_ = nullptr;
    QLabel* borderPlace_ = nullptr;
    QLabel* advice_ = nullptr;
    QPushButton* useFade_ = nullptr;
    QPushButton* useStroke_ = nullptr;
    std::optional<BorderAdvice> advised_;
    std::pair<SongFrame, std::shared_ptr<const Plan>> advisedFor_;
};

} // namespace lampo
