#include "shell/project_files.h"

#include "base/text.h"
#include "demo_kit/demo_recording.h"
#include "look/file_to_write.h"
#include "look/names.h"
#include "look/number.h"
#include "project/earlier_saves.h"
#include "project/project_file.h"

#include <QDateTime>
#include <QFileDialog>
#include <QLocale>
#include <QMenu>
#include <QMessageBox>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>

namespace lampo {
namespace {

QString wordsFor(const JournalContent& content) {
    const auto& history = content.history;
    const QString title = QString::fromStdString(content.base.title);
    const QString when = QLocale().toString(QDateTime::fromSecsSinceEpoch(content.at), QLocale::ShortFormat);
    const QString last = history.done > 0 && history.done <= history.steps.size()
                             ? QString::fromStdString(history.steps[history.done - 1]->label)
                             : QString();
    const QString steps = counted(static_cast<std::int64_t>(history.done), ProjectFiles::tr("step"));
    return ProjectFiles::tr("Lampo ended before the work on \"%1\" was saved: %2, the last at %3%4.")
        .arg(title, steps, when, last.isEmpty() ? QString() : QStringLiteral(" (%1)").arg(last));
}

} // namespace

ProjectFiles::ProjectFiles(Document& document, KitFiles& kit, QWidget* window)
    : QObject(window), document_(document), kit_(kit), window_(window) {}

bool ProjectFiles::open(const std::filesystem::path& input) {
    if (!mayDiscard())
        return false;
    emit aboutToOpen();
    const auto journal = journalOf(input);
    if (kit_.asks() && isProject(input) && isLeft(journal) && offer(journal)) {
        remember(input);
        return true;
    }
    if (!isProject(input)) {
        if (!kit_.openFolders({input}))
            return false;
    } else if (const auto opened = document_.open(input); !opened) {
        emit notified(QString::fromStdString(opened.error().sentence));
        return false;
    }
    emit opened();
    remember(input);
    kit_.tellSources();
    return true;
}

bool ProjectFiles::mayDiscard() {
    if (!kit_.asks() || document_.session().empty() || !document_.modified())
        return true;
    const auto answer = QMessageBox::question(
        window_, tr("Unsaved changes"),
        tr("Save the changes to \"%1\" first?").arg(QString::fromStdString(document_.session().title)),
        QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
    return answer == QMessageBox::Discard || (answer == QMessageBox::Save && save());
}

void ProjectFiles::openFolder() {
    const QString folder = QFileDialog::getExistingDirectory(window_, tr("Folder of one take"));
    if (!folder.isEmpty())
        open(folder.toStdString());
}

void ProjectFiles::openProject() {
    const QString file =
        QFileDialog::getOpenFileName(window_, tr("Open a project"), {}, tr("Lampo projects (*.lampo)"));
    if (!file.isEmpty())
        open(file.toStdString());
}

/// Made when it is not there yet, off the window's thread: it takes a few seconds.
void ProjectFiles::openDemo() {
    const std::filesystem::path folder =
        (QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + QStringLiteral("/lampo/demo"))
            .toStdString();
    const auto project = folder / "lighthouse_relay.lampo";
    if (std::filesystem::exists(project)) {
        open(project);
        return;
    }
    emit notified(tr("The demo recording is being made, which takes a few seconds"));
    demoMaker_ = std::jthread([this, folder, project] {
        const auto made = demo::writeDemo(folder);
        const QString error = made ? QString() : QString::fromStdString(made.error().sentence);
        QMetaObject::invokeMethod(
            this, [=, this] { error.isEmpty() ? (void)open(project) : emit notified(error); },
            Qt::QueuedConnection);
    });
}

bool ProjectFiles::save() {
    if (document_.session().empty())
        return false;
    if (document_.file().empty())
        return saveAs();
    return saveTo(document_.file());
}

bool ProjectFiles::saveTo(const std::filesystem::path& file) {
    auto saved = document_.save(file);
    if (!saved && saved.error().kind == ErrorKind::changedOnDisk && kit_.asks() &&
        QMessageBox::question(window_, tr("Changed on the disk"),
                              QString::fromStdString(saved.error().sentence) + tr(". Save over it?"),
                              QMessageBox::Save | QMessageBox::Cancel, QMessageBox::Cancel) == QMessageBox::Save)
        saved = document_.save(file, true);
    if (!saved) {
        emit notified(QString::fromStdString(saved.error().sentence));
        return false;
    }
    remember(document_.file());
    return true;
}

bool ProjectFiles::saveAs() {
    if (document_.session().empty())
        return false;
    const auto usual =
        document_.session().take().folder.parent_path() / (asFileName(document_.session().title) + ".lampo");
    const QString file = fileToWrite(window_, tr("Save the project"), QString::fromStdString(usual.string()),
                                     tr("Lampo projects (*.lampo)"), QStringLiteral("lampo"));
    return !file.isEmpty() && saveTo(file.toStdString());
}

void ProjectFiles::remember(const std::filesystem::path& input) {
    QSettings settings;
    QStringList recent = settings.value(QLatin1String(names::recent)).toStringList();
    const QString entry = QString::fromStdString(std::filesystem::absolute(input).string());
    recent.removeAll(entry);
    recent.prepend(entry);
    settings.setValue(QLatin1String(names::recent), recent.mid(0, 10));
}

void ProjectFiles::fillRecent(QMenu& menu) {
    menu.clear();
    for (const QString& entry : QSettings().value(QLatin1String(names::recent)).toStringList())
        menu.addAction(entry, this, [this, entry] { open(entry.toStdString()); });
    menu.setEnabled(!menu.isEmpty());
}

/// As the project was before it was saved over: one undoable step.
void ProjectFiles::fillEarlier(QMenu& menu) {
    menu.clear();
    const auto project = document_.file();
    if (!project.empty())
        for (const EarlierSave& save : earlierSaves(savesOf(project))) {
            const QString when = QLocale().toString(QDateTime::fromMSecsSinceEpoch(save.at), QLocale::ShortFormat);
            menu.addAction(tr("Before the save of %1").arg(when), this, [=, this] {
                const auto session = loadEarlierSave(save, project);
                if (!session)
                    return emit notified(QString::fromStdString(session.error().sentence));
                document_.perform(BringIn{std::make_shared<const Session>(*session),
                                          tr("As before the save of %1").arg(when).toStdString()});
            });
        }
    menu.setEnabled(!menu.isEmpty());
}

bool ProjectFiles::bringBack(const std::filesystem::path& journal) {
    const auto content = readJournal(journal);
    if (!content) {
        emit notified(QString::fromStdString(content.error().sentence));
        return false;
    }
    emit aboutToOpen();
    document_.recover(*content, journal);
    emit opened();
    kit_.tellSources();
    return true;
}

/// False: it was not brought back.
bool ProjectFiles::offer(const std::filesystem::path& journal) {
    const auto content = readJournal(journal);
    if (!content)
        return false;
    if (content->history.isSaved() || content->history.steps.empty()) { // nothing would come back
        std::error_code ignored;
        std::filesystem::remove(journal, ignored);
        return false;
    }
    QMessageBox box(QMessageBox::Question, tr("Work that was not saved"), wordsFor(*content), {}, window_);
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

bool ProjectFiles::offerLeftWork() {
    for (const auto& journal : leftJournals())
        if (offer(journal))
            return true;
    return false;
}

} // namespace lampo
