#pragma once

#include "stops/panel.h"
#include "stops/repairs/stretch_repairs.h"

class QComboBox;
class QSpinBox;

namespace lampo {

/// What is done to a stretch of some mics: silence, and sound from another take or bar.
class StretchesPage : public Panel {
    Q_OBJECT
public:
    StretchesPage(Document& document, SheetWidget& sheet, StretchRepairs& repairs, MicChoice& mics,
                  QWidget* parent = nullptr);

private:
    void addStretch(SheetWidget& sheet, MicChoice& mics);
    void addBorrow();
    void addToms();
    QPushButton* addButton(const QString& text, const char* name, const QString& tip);

    StretchRepairs& repairs_;
    QComboBox* take_ = nullptr;
    QSpinBox* bars_ = nullptr;
};

} // namespace lampo
