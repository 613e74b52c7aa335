#include "stops/print/edit_page.h"

#include "base/text.h"
#include "base/whole_file.h"
#include "deliver/report.h"
#include "deliver/tables.h"
#include "interchange/timeline_json.h"
#include "look/file_to_write.h"
#include "project/gather.h"

#include <QDir>
#include <QFileDialog>

namespace lampo {

EditPage::EditPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    addNote(tr("The edit before it is rendered: every cut, fade and place in the files, so that it can be opened "
               "elsewhere."));
    auto* interchange =
        addButton(tr("Write it as OpenTimelineIO…"), "Write interchange",
                  tr("A track for each mic, a clip for each slice, a transition for each fade; patches included"));
    auto* report =
        addButton(tr("Write a report…"), "Write report", tr("Hits, strokes, slices, seams and warnings as JSON"));
    auto* tables = addButton(tr("Write tables…"), "Write tables",
                             tr("Hits, slices, seams and figures, as CSV files in a folder"));
    addNote(
        tr("The project with everything it needs, to be moved or sent: the project, a copy of every file of the "
           "recording, and their checksums."));
    gather_ = addButton(tr("Gather it in one folder…"), "Gather", tr("Into a new or empty folder"));
    progress_ = new QProgressBar;
    progress_->setRange(0, 1000);
    progress_->hide();
    column()->addWidget(progress_);
    column()->addStretch(1);
    connect(interchange, &QPushButton::clicked, this, [this] {
        const QString file = fileToWrite(this, tr("The edit to"), tr("edit.otio"), tr("OpenTimelineIO (*.otio)"),
                                         QStringLiteral("otio"));
        if (!file.isEmpty())
            writeInterchange(file);
    });
    connect(report, &QPushButton::clicked, this, [this] {
        const QString file =
            fileToWrite(this, tr("The report to"), tr("report.json"), tr("JSON (*.json)"), QStringLiteral("json"));
        if (!file.isEmpty())
            writeReport(file);
    });
    connect(tables, &QPushButton::clicked, this, [this] {
        const QString folder = QFileDialog::getExistingDirectory(this, tr("Folder for the tables"));
        if (!folder.isEmpty())
            writeTables(folder);
    });
    connect(gather_, &QPushButton::clicked, this, [this] {
        if (gathering_) {
            thread_.request_stop();
            return;
        }
        const QString folder = QFileDialog::getExistingDirectory(this, tr("A new or empty folder"));
        if (!folder.isEmpty())
            gatherInto(folder);
    });
    onChange([this, interchange, report, tables] {
        for (QPushButton* button : {interchange, report, tables, gather_})
            button->setEnabled(!document_.session().empty());
    });
    refresh();
}

EditPage::~EditPage() {
    thread_ = {};
}

QPushButton* EditPage::addButton(const QString& title, const char* name, const QString& tip) {
    auto* button = new QPushButton(title);
    button->setObjectName(QLatin1String(name));
    button->setToolTip(tip);
    column()->addWidget(button);
    return button;
}

void EditPage::writeAll(const std::vector<std::pair<std::string, std::string>>& files, const QString& where) {
    Expected<void> written;
    for (const auto& file : files) // its path and its text
        if (written)
            written = document_.protectedFiles().mayWrite(file.first).and_then([&] {
                return writeAtomically(file.first, file.second);
            });
    emit notified(written ? tr("It is in %1").arg(QDir::toNativeSeparators(where))
                          : QString::fromStdString(written.error().sentence));
}

void EditPage::writeInterchange(const QString& file) {
    const std::filesystem::path path = std::filesystem::absolute(file.toStdString());
    writeAll({{path.string(),
               timelineText(timelineOf(document_.session(), *document_.outcome().plan), path.parent_path())}},
             file);
}

void EditPage::writeReport(const QString& file) {
    const HeardProof& proof = document_.proof();
    writeAll({{file.toStdString(), reportText(document_.session(), document_.analyses(), document_.outcome(),
                                              document_.proofIsOfNow() ? &proof.proof.summary : nullptr)}},
             file);
}

void EditPage::writeTables(const QString& folder) {
    const ProofSummary figures = document_.proofIsOfNow() ? document_.proof().proof.summary
                                                          : summaryOf(document_.session(), document_.outcome(), {});
    std::vector<std::pair<std::string, std::string>> files;
    for (const PrintedText& table :
         tablesOf(document_.session(), document_.analyses(), document_.outcome(), figures, folder.toStdString()))
        files.emplace_back(table.file.string(), table.text);
    writeAll(files, folder);
}

void EditPage::gatherInto(const QString& folder) {
    gathering_ = true;
    gather_->setText(tr("Stop gathering"));
    progress_->setValue(0);
    progress_->show();
    thread_ = std::jthread([this, session = document_.session(), folder](const std::stop_token& stop) {
        const Progress progress{[this](double fraction) {
                                    QMetaObject::invokeMethod(
                                        this, [=, this] { progress_->setValue(static_cast<int>(fraction * 1000)); },
                                        Qt::QueuedConnection);
                                },
                                stop};
        const auto gathered = gather(session, folder.toStdString(), progress);
        const QString sentence = gathered ? tr("All of it is in %1").arg(QDir::toNativeSeparators(folder))
                                          : QString::fromStdString(gathered.error().sentence);
        QMetaObject::invokeMethod(
            this, [=, this] { finish(sentence); }, Qt::QueuedConnection);
    });
}

void EditPage::finish(const QString& sentence) {
    gathering_ = false;
    gather_->setText(tr("Gather it in one folder…"));
    progress_->hide();
    emit notified(sentence);
}

} // namespace lampo
