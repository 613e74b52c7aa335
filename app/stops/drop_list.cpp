#include "stops/drop_list.h"

#include <QKeyEvent>

namespace lampo {

bool DropList::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete)
        event->accept();
    return QListWidget::event(event);
}

void DropList::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete && currentRow() >= 0)
        emit dropWanted(currentRow());
    else
        QListWidget::keyPressEvent(event);
}

} // namespace lampo
