#pragma once

#include <QListWidget>

namespace lampo {

/// A list whose current row the Delete key wants dropped, whatever that key does elsewhere in the window.
class DropList : public QListWidget {
    Q_OBJECT
public:
    using QListWidget::QListWidget;

signals:
    void dropWanted(int row);

protected:
    bool event(QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
};

} // namespace lampo
