#pragma once

#include "stops/panel.h"

class QButtonGroup;

namespace lampo {

/// Which take sounds.
class TakesPanel : public Panel {
    Q_OBJECT
public:
    explicit TakesPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

private:
    void showTakes();

    QVBoxLayout* list_ = nullptr;
    QButtonGroup* group_ = nullptr;
    std::vector<Take> shown_;
};

} // namespace lampo
