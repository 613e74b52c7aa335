#pragma once

#include "stops/panel.h"

class QComboBox;

namespace lampo {

/// Grid and strength, and what they do in figures.
class TimingPanel : public Panel {
    Q_OBJECT
public:
    explicit TimingPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

private:
    void addScope();
    void addSettings();
    void addDrums();
    std::optional<std::size_t> section() const;
    TimingSettings ruling() const;
    void addFigures();

    QComboBox* where_ = nullptr;
    QStringList shown_;
};

} // namespace lampo
