// What the window does with files of the kit: bringing in takes and companions, kept kits.
#include "look/file_to_write.h"
#include "project/import_plan.h"
#include "project/kit_layout.h"
#include "shell/import_page.h"
#include "shell/main_window.h"
#include "shell/sources_dialog.h"

#include <QFileDialog>

namespace lampo {

bool MainWindow::openFolders(const std::vector<std::filesystem::path>& folders) {
    auto plan = planImport(folders);
    if (!plan) {
        tell(QString::fromStdString(plan.error().sentence));
        return false;
    }
    if (asking_) {
        ImportPage page(std::move(*plan), this);
        if (page.exec() != QDialog::Accepted)
            return false;
        *plan = page.plan();
    }
    const auto session = sessionOf(*plan);
    if (!session) {
        tell(QString::fromStdString(session.error().sentence));
        return false;
    }
    document_.adopt(*session);
    for (const ImportItem& item : plan->items)
        if (item.error)
            tell(QString::fromStdString(item.error->sentence));
    return true;
}

void MainWindow::bringIn(const std::vector<std::filesystem::path>& inputs) {
    auto plan = planImport(inputs, &document_.session());
    if (!plan)
        return tell(QString::fromStdString(plan.error().sentence));
    if (asking_) {
        ImportPage page(std::move(*plan), this);
        if (page.exec() != QDialog::Accepted)
            return;
        *plan = page.plan();
    }
    const auto session = sessionOf(*plan, &document_.session());
    if (!session)
        return tell(QString::fromStdString(session.error().sentence));
    document_.perform(BringIn{std::make_shared<const Session>(*session)});
}

void MainWindow::bringInTakes() {
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder of one take, or of several"));
    if (!folder.isEmpty())
        bringIn({folder.toStdString()});
}

void MainWindow::addCompanion() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Something beside the kit"), {},
                                                      tr("Audio (*.wav *.flac *.aif *.aiff)"));
    if (file.isEmpty())
        return;
    auto plan = planImport({file.toStdString()}, &document_.session());
    if (!plan)
        return tell(QString::fromStdString(plan.error().sentence));
    for (ImportItem& item : plan->items)
        if (item.error)
            return tell(QString::fromStdString(item.error->sentence));
    ImportItem& first = plan->items.front();
    first.use = ImportItem::Use::companion;
    first.mic = first.source.file.stem().string();
    first.source.channel = first.info.channels > 1 ? SourceFile::everyChannel : 0;
    plan->items.resize(1);
    plan->mics.clear();
    if (const auto session = sessionOf(*plan, &document_.session()))
        document_.perform(BringIn{std::make_shared<const Session>(*session)});
    else
        tell(QString::fromStdString(session.error().sentence));
}

void MainWindow::keepKit() {
    const QString file = fileToWrite(this, tr("Keep this kit as"), tr("kit.lampo-kit"),
                                     tr("Kit layouts (*.lampo-kit)"), QStringLiteral("lampo-kit"));
    if (file.isEmpty())
        return;
    const auto kept = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return saveKitLayout(document_.session(), file.toStdString());
    });
    if (!kept)
        tell(QString::fromStdString(kept.error().sentence));
}

void MainWindow::useKit() {
    const QString file =
        QFileDialog::getOpenFileName(this, tr("Use a kept kit"), {}, tr("Kit layouts (*.lampo-kit)"));
    if (!file.isEmpty())
        useKit(file.toStdString());
}

void MainWindow::useKit(const std::filesystem::path& file) {
    const auto mics = loadKitLayout(file);
    if (!mics)
        return tell(QString::fromStdString(mics.error().sentence));
    const auto known = std::count_if(mics->begin(), mics->end(), [&](const Mic& mic) {
        return document_.session().micNamed(mic.stem) < document_.session().mics.size();
    });
    document_.perform(ArrangeKit{*mics});
    tell(tr("%1 of %2 mics were found in the kept kit").arg(known).arg(document_.session().mics.size()));
}

/// Not modal, so that one can look at what is there.
void MainWindow::showSources() {
    auto* dialog = new SourcesDialog(document_, this);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &SourcesDialog::troubled, this, &MainWindow::tell);
    connect(&document_, &Document::fileChanged, dialog, [this, dialog] {
        if (document_.history().count() == 0) // another project
            dialog->close();
    });
    dialog->show();
}

/// After opening.
void MainWindow::tellSources() {
    const auto& problems = document_.sourceProblems();
    if (problems.empty())
        return;
    const QString first = QString::fromStdString(problems.front().error.sentence);
    tell(problems.size() == 1
             ? first
             : tr("%1; and %2 more (File, Files of the recording)").arg(first).arg(problems.size() - 1));
    if (asking_)
        showSources();
}

} // namespace lampo
