#include "look/actions.h"

#include <QMenu>
#include <QSettings>

namespace lampo {
namespace {

QString settingOf(const QString& name) {
    return QStringLiteral("shortcuts/") + name;
}

} // namespace

void Actions::prepare(QAction* action, const QString& name, const QKeySequence& shortcut) {
    action->setObjectName(name);
    action->setProperty("usualShortcut", shortcut);
    const QVariant own = QSettings().value(settingOf(name));
    action->setShortcut(own.isValid() ? QKeySequence(own.toString(), QKeySequence::PortableText) : shortcut);
    window_.addAction(action);
    actions_.append(action);
}

QAction* Actions::add(const QString& name, const QString& text, const QKeySequence& shortcut,
                      std::function<void()> call) {
    auto* action = new QAction(text, &window_);
    prepare(action, name, shortcut);
    QObject::connect(action, &QAction::triggered, &window_, [call = std::move(call)] { call(); });
    return action;
}

QAction* Actions::addSwitch(const QString& name, const QString& text, const QKeySequence& shortcut, bool on,
                            std::function<void(bool)> call) {
    auto* action = new QAction(text, &window_);
    action->setCheckable(true);
    action->setChecked(on);
    prepare(action, name, shortcut);
    QObject::connect(action, &QAction::toggled, &window_, std::move(call));
    return action;
}

QAction* ActionMenu::add(const char* name, const QString& text, const QString& keys,
                         std::function<void()> call) const {
    auto* action = actions.add(QString::fromLatin1(name), text, QKeySequence(keys), std::move(call));
    menu->addAction(action);
    return action;
}

void rememberShortcut(QAction& action, const QKeySequence& shortcut) {
    action.setShortcut(shortcut);
    QSettings settings;
    if (shortcut == action.property("usualShortcut").value<QKeySequence>())
        settings.remove(settingOf(action.objectName()));
    else
        settings.setValue(settingOf(action.objectName()), shortcut.toString(QKeySequence::PortableText));
}

} // namespace lampo
