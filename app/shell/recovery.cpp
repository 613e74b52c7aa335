// Work that was not saved when Lampo ended, and earlier saves: offered and brought back.
#include "project/earlier_saves.h"
#include "shell/main_window.h"
#include "shell/player_control.h"

#include <QDateTime>
#include <QLocale>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>

namespace lampo {
namespace {

QString wordsFor(const JournalContent& content) {
    const auto& history = content.history;
    const QString title = QString::fromStdString(content.base.title);
    const QString when = QLocale().toString(QDateTime::fromSecsSinceEpoch(content.at), QLocale::ShortFormat);
    const QString last = history.done > 0 && history.done <= history.steps.size()
                             ? QString::fromStdString(history.steps[history.done - 1]->label)
                             : QString();
    const QString steps =
        history.done == 1 ? MainWindow::tr("1 step") : MainWindow::tr("%1 steps").arg(history.done);
    return MainWindow::tr("Lampo ended before the work on \"%1\" was saved: %2, the last at %3%4.")
        .arg(title, steps, when, last.isEmpty() ? QString() : QStringLiteral(" (%1)").arg(last));
}

} // namespace

/// As the project was before it was saved over: one undoable step.
void MainWindow::fillEarlier() {
    earlier_->clear();
    const auto project = document_.file();
    if (!project.empty())
        for (const EarlierSave& save : earlierSaves(savesOf(project))) {
            const QString when = QLocale().toString(QDateTime::fromMSecsSinceEpoch(save.at), QLocale::ShortFormat);
            earlier_->addAction(tr("Before the save of %1").arg(when), this, [=, this] {
                const auto session = loadEarlierSave(save, project);
                if (!session)
                    return tell(QString::fromStdString(session.error().sentence));
                document_.perform(BringIn{std::make_shared<const Session>(*session),
                                          tr("As before the save of %1").arg(when).toStdString()});
            });
        }
    earlier_->setEnabled(!earlier_->isEmpty());
}

bool MainWindow::bringBack(const std::filesystem::path& journal) {
    const auto content = readJournal(journal);
    if (!content) {
        tell(QString::fromStdString(content.error().sentence));
        return false;
    }
    player_->stop();
    document_.recover(*content, journal);
    sheet_->select(std::nullopt);
    sheet_->showAll();
    tellSources();
    return true;
}

/// False: it was not brought back.
bool MainWindow::offer(const std::filesystem::path& journal) {
    const auto content = readJournal(journal);
    if (!content)
        return false;
    if (content->history.isSaved() || content->history.steps.empty()) { // nothing would come back
        std::error_code ignored;
        std::filesystem::remove(journal, ignored);
        return false;
    }
    QMessageBox box(QMessageBox::Question, tr("Work that was not saved"), wordsFor(*content), {}, this);
    auto* back = box.addButton(tr("Bring it back"), QMessageBox::AcceptRole);
    box.addButton(tr("Not now"), QMessageBox::RejectRole);
    auto* away = box.addButton(tr("Throw it away"), QMessageBox::DestructiveRole);
    box.setDefaultButton(back);
    box.exec();
    if (box.clickedButton() == away) {
        std::error_code ignored;
        std::filesystem::remove(journal, ignored);
    }
    return box.clickedButton() == back && bringBack(journal);
}

bool MainWindow::offerLeftWork() {
    for (const auto& journal : leftJournals())
        if (offer(journal))
            return true;
    return false;
}

} // namespace lampo
