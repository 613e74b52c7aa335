#pragma once

#include "stops/panel.h"

class QListWidget;

namespace lampo {

/// The places that want an ear, worst first.
class ProofPanel : public Panel {
    Q_OBJECT
public:
    explicit ProofPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

public slots:
    /// Goes to the next place in the list (step 1) or the one before (−1).
    void go(int step);

signals:
    void placeChosen(lampo::ResultFrame at);

private:
    void showWarnings();

    QListWidget* list_ = nullptr;
};

} // namespace lampo
