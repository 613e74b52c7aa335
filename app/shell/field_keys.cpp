#include "shell/field_keys.h"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QAbstractSlider>
#include <QAbstractSpinBox>
#include <QComboBox>
#include <QKeyEvent>
#include <QLineEdit>
#include <QScrollBar>

namespace lampo {
namespace {

/// Letters are text in a line, but not in a field of digits.
bool isLetter(const QObject* field, int key) {
    return qobject_cast<const QLineEdit*>(field) && !qobject_cast<const QAbstractSpinBox*>(field->parent()) &&
           Qt::Key_A <= key && key <= Qt::Key_Z;
}

bool understands(const QObject* field, int key) {
    if (qobject_cast<const QAbstractButton*>(field))
        return key == Qt::Key_Space || key == Qt::Key_Return;
    const bool moves = key == Qt::Key_Left || key == Qt::Key_Right || key == Qt::Key_Up || key == Qt::Key_Down ||
                       key == Qt::Key_Home || key == Qt::Key_End;
    if (qobject_cast<const QAbstractSlider*>(field))
        return moves;
    if (qobject_cast<const QComboBox*>(field) || qobject_cast<const QAbstractItemView*>(field))
        return moves || key == Qt::Key_Space;
    if (qobject_cast<const QLineEdit*>(field) || qobject_cast<const QAbstractSpinBox*>(field))
        return moves || key == Qt::Key_Space || key == Qt::Key_Delete || key == Qt::Key_Return ||
               isLetter(field, key);
    return false;
}

} // namespace

bool FieldKeys::eventFilter(QObject* receiver, QEvent* event) {
    if (event->type() != QEvent::ShortcutOverride)
        return false;
    auto* key = static_cast<QKeyEvent*>(event);
    const bool plain = (key->modifiers() & ~(Qt::KeypadModifier | Qt::ShiftModifier)) == Qt::NoModifier;
    if (!plain || !understands(receiver, key->key()))
        return false;
    event->accept();
    return true;
}

} // namespace lampo
