#pragma once

#include "stops/panel.h"

namespace lampo {

/// Which mics there are, at which drum each stands, and which of them guide.
class KitPanel : public Panel {
    Q_OBJECT
public:
    explicit KitPanel(Document& document, QWidget* parent = nullptr);
    QString state() const override;

private:
    void rebuildIfNeeded();

    QWidget* list_ = nullptr;
    std::vector<std::string> shown_;
    std::vector<std::function<void()>> rows_;
};

} // namespace lampo
