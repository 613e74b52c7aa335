#pragma once

#include "stops/panel.h"

class QComboBox;

namespace lampo {

/// Each guide's threshold, with what it shows and hides.
class HitsPanel : public Panel {
    Q_OBJECT
public:
    explicit HitsPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

private:
    void showGuides();
    std::size_t mic() const;
    QString tally() const;

    QComboBox* guides_ = nullptr;
    std::vector<std::string> shown_;
};

} // namespace lampo
