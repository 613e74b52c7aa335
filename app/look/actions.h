#pragma once

#include <QAction>
#include <QKeySequence>
#include <QMainWindow>

#include <functional>

namespace lampo {

/// Makes actions with a name that stays (for the settings and the tests), a text, a shortcut that the user may have
/// changed, and what they do.
class Actions {
public:
    explicit Actions(QMainWindow& window) : window_(window) {}

    QAction* add(const QString& name, const QString& text, const QKeySequence& shortcut,
                 std::function<void()> call);
    QAction* addSwitch(const QString& name, const QString& text, const QKeySequence& shortcut, bool on,
                       std::function<void(bool)> call);
    QList<QAction*> all() const { return actions_; }

private:
    void prepare(QAction* action, const QString& name, const QKeySequence& shortcut);

    QMainWindow& window_;
    QList<QAction*> actions_;
};

/// A menu, and what makes its actions.
struct ActionMenu {
    QMenu* menu;
    Actions& actions;
    /// At its end. `keys`: as they are written, empty for none.
    QAction* add(const char* name, const QString& text, const QString& keys, std::function<void()> call) const;
};

/// Gives an action another shortcut and remembers it.
void rememberShortcut(QAction& action, const QKeySequence& shortcut);

} // namespace lampo
