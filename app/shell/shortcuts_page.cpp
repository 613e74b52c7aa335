#include "shell/shortcuts_page.h"

#include "look/actions.h"

#include <QHeaderView>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

namespace lampo {

namespace {

void fill(QTreeWidget& list, const QList<QAction*>& actions) {
    list.setColumnCount(2);
    list.setHeaderLabels({ShortcutsPage::tr("Action"), ShortcutsPage::tr("Shortcut")});
    list.setRootIsDecorated(false);
    list.header()->setSectionResizeMode(0, QHeaderView::Stretch);
    for (QAction* action : actions) {
        auto* item = new QTreeWidgetItem(
            {action->text().remove(QLatin1Char('&')), action->shortcut().toString(QKeySequence::NativeText)});
        item->setData(0, Qt::UserRole, QVariant::fromValue(action));
        list.addTopLevelItem(item);
    }
}

void showMatching(QTreeWidget& list, const QString& text) {
    for (int i = 0; i < list.topLevelItemCount(); ++i) {
        auto* item = list.topLevelItem(i);
        item->setHidden(!item->text(0).contains(text, Qt::CaseInsensitive) &&
                        !item->text(1).contains(text, Qt::CaseInsensitive));
    }
}

} // namespace

ShortcutsPage::ShortcutsPage(const QList<QAction*>& actions, QWidget* parent) : QDialog(parent) {
    setWindowTitle(tr("Shortcuts"));
    resize(460, 560);
    auto* column = new QVBoxLayout(this);
    auto* search = new QLineEdit;
    search->setPlaceholderText(tr("Search"));
    search->setClearButtonEnabled(true);
    auto* list = new QTreeWidget;
    fill(*list, actions);
    auto* keys = new QKeySequenceEdit;
    auto* standard = new QPushButton(tr("Default"));
    auto* note = new QLabel(tr("Choose an action, then type its new shortcut."));
    column->addWidget(search);
    column->addWidget(list, 1);
    column->addWidget(note);
    column->addWidget(keys);
    column->addWidget(standard);

    connect(search, &QLineEdit::textChanged, this, [list](const QString& text) { showMatching(*list, text); });
    const auto change = [=](const QKeySequence& wanted) {
        auto* item = list->currentItem();
        if (!item)
            return;
        auto* action = item->data(0, Qt::UserRole).value<QAction*>();
        for (QAction* other : actions)
            if (other != action && !wanted.isEmpty() && other->shortcut() == wanted) {
                note->setText(tr("%1 has that shortcut already.").arg(other->text().remove(QLatin1Char('&'))));
                return;
            }
        rememberShortcut(*action, wanted);
        item->setText(1, wanted.toString(QKeySequence::NativeText));
        note->setText(tr("Changed."));
    };
    connect(keys, &QKeySequenceEdit::editingFinished, this, [=] {
        if (!keys->keySequence().isEmpty())
            change(keys->keySequence());
    });
    connect(standard, &QPushButton::clicked, this, [=] {
        if (auto* item = list->currentItem())
            change(item->data(0, Qt::UserRole).value<QAction*>()->property("usualShortcut").value<QKeySequence>());
    });
    connect(list, &QTreeWidget::itemActivated, this, [keys] { keys->setFocus(); });
    connect(list, &QTreeWidget::currentItemChanged, this, [keys](QTreeWidgetItem* item) {
        if (item)
            keys->setKeySequence(item->data(0, Qt::UserRole).value<QAction*>()->shortcut());
    });
}

} // namespace lampo
