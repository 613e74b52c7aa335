#pragma once

#include "stops/panel.h"

namespace lampo {

/// Grid and strength, and what they do in figures.
class TimingPanel : public Panel {
    Q_OBJECT
public:
    explicit TimingPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

private:
    void addFigures();
};

} // namespace lampo
