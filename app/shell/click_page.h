#pragma once

#include "render/click.h"

#include <QDialog>

class QCheckBox;
class QComboBox;

namespace lampo {

/// Asks what a click to be written should play.
class ClickPage : public QDialog {
    Q_OBJECT
public:
    explicit ClickPage(QWidget* parent = nullptr);
    ClickSettings settings() const;

private:
    QCheckBox* accent_;
    QComboBox* subdivision_;
};

} // namespace lampo
