#pragma once

#include "stops/proof/compare_page.h"
#include "stops/proof/places_page.h"

namespace lampo {

/// What listening to the edit found, figures to be sent along, and comparing by ear.
class ProofPanel : public Panel {
    Q_OBJECT
public:
    explicit ProofPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

    PlacesPage& places() { return *places_; }
    ComparePage& comparison() { return *compare_; }

signals:
    void stateChanged();
    void notified(const QString& sentence);

private:
    PlacesPage* places_;
    ComparePage* compare_;
};

} // namespace lampo
