#include "shell/kit_files.h"

#include "deliver/click_file.h"
#include "import/import_plan.h"
#include "look/file_to_write.h"
#include "project/kit_layout.h"
#include "shell/click_page.h"
#include "shell/import_page.h"
#include "shell/sources_dialog.h"

#include <QFileDialog>

namespace lampo {

KitFiles::KitFiles(Document& document, QWidget* window) : QObject(window), document_(document), window_(window) {}

bool KitFiles::openFolders(const std::vector<std::filesystem::path>& folders) {
    auto plan = planImport(folders);
    if (!plan) {
        emit notified(QString::fromStdString(plan.error().sentence));
        return false;
    }
    if (asking_) {
        ImportPage page(std::move(*plan), window_);
        if (page.exec() != QDialog::Accepted)
            return false;
        *plan = page.plan();
    }
    const auto session = sessionOf(*plan);
    if (!session) {
        emit notified(QString::fromStdString(session.error().sentence));
        return false;
    }
    document_.adopt(*session);
    for (const ImportItem& item : plan->items)
        if (item.error)
            emit notified(QString::fromStdString(item.error->sentence));
    return true;
}

void KitFiles::bringIn(const std::vector<std::filesystem::path>& inputs) {
    auto plan = planImport(inputs, &document_.session());
    if (!plan)
        return emit notified(QString::fromStdString(plan.error().sentence));
    if (asking_) {
        ImportPage page(std::move(*plan), window_);
        if (page.exec() != QDialog::Accepted)
            return;
        *plan = page.plan();
    }
    const auto session = sessionOf(*plan, &document_.session());
    if (!session)
        return emit notified(QString::fromStdString(session.error().sentence));
    document_.perform(BringIn{std::make_shared<const Session>(*session)});
}

void KitFiles::bringInTakes() {
    const QString folder = QFileDialog::getExistingDirectory(window_, tr("Folder of one take, or of several"));
    if (!folder.isEmpty())
        bringIn({folder.toStdString()});
}

void KitFiles::addCompanion() {
    const QString file = QFileDialog::getOpenFileName(window_, tr("Something beside the kit"), {},
                                                      tr("Audio (*.wav *.flac *.aif *.aiff)"));
    if (file.isEmpty())
        return;
    auto plan = planImport({file.toStdString()}, &document_.session());
    if (!plan)
        return emit notified(QString::fromStdString(plan.error().sentence));
    for (ImportItem& item : plan->items)
        if (item.error)
            return emit notified(QString::fromStdString(item.error->sentence));
    ImportItem& first = plan->items.front();
    first.use = ImportItem::Use::companion;
    first.mic = first.source.file.stem().string();
    first.source.channel = first.info.channels > 1 ? SourceFile::everyChannel : 0;
    plan->items.resize(1);
    plan->mics.clear();
    if (const auto session = sessionOf(*plan, &document_.session()))
        document_.perform(BringIn{std::make_shared<const Session>(*session)});
    else
        emit notified(QString::fromStdString(session.error().sentence));
}

void KitFiles::keepKit() {
    const QString file = fileToWrite(window_, tr("Keep this kit as"), tr("kit.lampo-kit"),
                                     tr("Kit layouts (*.lampo-kit)"), QStringLiteral("lampo-kit"));
    if (file.isEmpty())
        return;
    const auto kept = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return saveKitLayout(document_.session(), file.toStdString());
    });
    if (!kept)
        emit notified(QString::fromStdString(kept.error().sentence));
}

void KitFiles::chooseKit() {
    const QString file =
        QFileDialog::getOpenFileName(window_, tr("Use a kept kit"), {}, tr("Kit layouts (*.lampo-kit)"));
    if (!file.isEmpty())
        useKit(file.toStdString());
}

void KitFiles::useKit(const std::filesystem::path& file) {
    const auto mics = loadKitLayout(file);
    if (!mics)
        return emit notified(QString::fromStdString(mics.error().sentence));
    const auto known = std::count_if(mics->begin(), mics->end(), [&](const Mic& mic) {
        return document_.session().micNamed(mic.stem) < document_.session().mics.size();
    });
    document_.perform(ArrangeKit{*mics});
    emit notified(tr("%1 of %2 mics were found in the kept kit").arg(known).arg(document_.session().mics.size()));
}

void KitFiles::chooseClick() {
    ClickPage page(window_);
    if (page.exec() != QDialog::Accepted)
        return;
    const QString file = fileToWrite(window_, tr("Click to"), {}, tr("WAV files (*.wav)"), QStringLiteral("wav"));
    if (!file.isEmpty())
        writeClickTo(file, page.settings());
}

void KitFiles::writeClickTo(const QString& file, const ClickSettings& settings) {
    const auto written = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return writeClick(document_.session(), settings, file.toStdString(), SampleFormat::wav24, {});
    });
    emit notified(written ? tr("The click is in %1").arg(file) : QString::fromStdString(written.error().sentence));
}

/// Not modal, so that one can look at what is there.
void KitFiles::showSources() {
    auto* dialog = new SourcesDialog(document_, window_);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &SourcesDialog::notified, this, &KitFiles::notified);
    connect(&document_, &Document::fileChanged, dialog, [this, dialog] {
        if (document_.history().count() == 0) // another project
            dialog->close();
    });
    dialog->show();
}

/// After opening.
void KitFiles::tellSources() {
    const auto& problems = document_.sourceProblems();
    if (problems.empty())
        return;
    const QString first = QString::fromStdString(problems.front().error.sentence);
    emit notified(problems.size() == 1
                      ? first
                      : tr("%1; and %2 more (File, Files of the recording)").arg(first).arg(problems.size() - 1));
    if (asking_)
        showSources();
}

} // namespace lampo
