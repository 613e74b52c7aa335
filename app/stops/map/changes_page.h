#pragma once

#include "stops/panel.h"

class QTableWidget;

namespace lampo {

/// The changes of tempo and meter as a table. A change of tempo may stand inside a bar: "12.3" is its third beat.
class ChangesPage : public Panel {
    Q_OBJECT
public:
    explicit ChangesPage(Document& document, QWidget* parent = nullptr);

signals:
    void notified(const QString& sentence);

private:
    void show();
    void showRow(int row);
    void changed(int row, int column);
    MapData written() const;
    BarBeat placeIn(int row) const;
    void add(int bar);
    void drop();

    QTableWidget* changes_ = nullptr;
    MapData shown_;
    std::vector<BarBeat> places_; ///< of the rows
};

} // namespace lampo
