#pragma once

#include "stops/panel.h"

namespace lampo {

/// Lead-in, fades, and what becomes of holes.
class SeamsPanel : public Panel {
    Q_OBJECT
public:
    explicit SeamsPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;
};

} // namespace lampo
