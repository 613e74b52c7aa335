#pragma once

#include <QAction>
#include <QDialog>

namespace lampo {

/// All actions and their shortcuts on one page, searchable; a double click or Enter on one changes it.
class ShortcutsPage : public QDialog {
    Q_OBJECT
public:
    explicit ShortcutsPage(const QList<QAction*>& actions, QWidget* parent = nullptr);
};

} // namespace lampo
