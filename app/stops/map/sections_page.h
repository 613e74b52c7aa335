#pragma once

#include "stops/panel.h"

class QTableWidget;

namespace lampo {

/// The sections as a table: name, first bar (or "12.3": beats of one bar), length and grid.
class SectionsPage : public Panel {
    Q_OBJECT
public:
    explicit SectionsPage(Document& document, QWidget* parent = nullptr);

signals:
    /// One of the bars that the loop touches.
    void sectionWanted();
    void notified(const QString& sentence);

private:
    void show();
    void changed(int row, int column);
    void drop();

    QTableWidget* sections_ = nullptr;
    std::vector<Section> shown_;
};

} // namespace lampo
