#pragma once

#include "sheet/sheet_widget.h"
#include "stops/panel.h"

class QComboBox;

namespace lampo {

/// Mean, spread, worst and share within 5 ms, as played and as landed: of the song or, where two hits or more are
/// chosen, of those; of all drums or of one.
class TightnessFigures : public Panel {
    Q_OBJECT
public:
    TightnessFigures(Document& document, SheetWidget& sheet, QWidget* parent = nullptr);

private:
    void show();

    SheetWidget& sheet_;
    QLabel* where_ = nullptr;
    QComboBox* drum_ = nullptr;
    std::array<std::array<QLabel*, 2>, 4> cells_{};
};

} // namespace lampo
