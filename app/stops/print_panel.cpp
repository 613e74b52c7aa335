#include "stops/print_panel.h"

#include "base/text.h"
#include "deliver/print.h"
#include "look/names.h"
#include "look/number.h"
#include "pipeline/searched_seams.h"

#include <QDir>
#include <QFileDialog>

#include <algorithm>

namespace lampo {

PrintPanel::PrintPanel(Document& document, QWidget* parent) : Panel(document, tr("Print"), parent) {
    addNote(tr("One continuous file for each mic, of the song's length, named as its recording. The recording "
               "itself stays as it is."));
    auto* form = addForm();
    format_ = new QComboBox;
    format_->setAccessibleName(tr("Format"));
    const QStringList titles{tr("WAV, 16 bit"), tr("WAV, 24 bit"), tr("WAV, 32 bit float"), tr("FLAC, 16 bit"),
                             tr("FLAC, 24 bit")};
    format_->addItems(titles);
    format_->setCurrentIndex(1);
    form->addRow(tr("Format"), format_);
    folder_ = new QLineEdit;
    folder_->setAccessibleName(tr("Folder"));
    folder_->setObjectName(QLatin1String(names::printFolder));
    form->addRow(tr("Folder"), folder_);
    auto* choose = new QPushButton(tr("Choose a folder…"));
    form->addRow(QString(), choose);
    open_ = addNote();
    open_->setObjectName(QStringLiteral("Open places"));
    look_ = new QPushButton(tr("Look at them first"));
    look_->setObjectName(QStringLiteral("Look at places"));
    look_->hide();
    connect(look_, &QPushButton::clicked, this, &PrintPanel::placesWanted);
    column()->addWidget(look_);
    button_ = new QPushButton(tr("Print"));
    button_->setObjectName(QStringLiteral("Print button"));
    progress_ = new QProgressBar;
    progress_->setRange(0, 1000);
    progress_->hide();
    column()->addWidget(button_);
    column()->addWidget(progress_);
    done_ = addNote();
    column()->addStretch(1);
    connect(button_, &QPushButton::clicked, this, [this] { printing_ ? (void)thread_.request_stop() : start(); });
    connect(choose, &QPushButton::clicked, this, [this] {
        const QString chosen =
            QFileDialog::getExistingDirectory(this, tr("Folder for the printed files"), folder_->text());
        if (!chosen.isEmpty())
            folder_->setText(chosen);
    });
    connect(&document_, &Document::proofChanged, this, &PrintPanel::showOpen);
    onChange([this] {
        button_->setEnabled(!document_.session().empty());
        folder_->setPlaceholderText(defaultFolder());
    });
    refresh();
}

PrintPanel::~PrintPanel() {
    thread_ = {};
}

QString PrintPanel::defaultFolder() const {
    if (document_.session().empty())
        return {};
    const auto base = document_.file().empty() ? document_.session().take().folder : document_.file();
    return QString::fromStdString(
        (base.parent_path() / (asFileName(document_.session().title) + " print")).string());
}

std::ptrdiff_t PrintPanel::openPlaces() const {
    const auto& places = document_.proof().proof.places;
    return std::count_if(places.begin(), places.end(),
                         [](const ProofPlace& place) { return place.state == ProofState::open; });
}

void PrintPanel::showOpen() {
    const auto open = openPlaces();
    open_->setText(
        open == 0
            ? QString()
            : tr("%1 of the proof %2 open.").arg(counted(open, tr("place")), open == 1 ? tr("is") : tr("are")));
    if (open == 0)
        look_->hide();
    if (!printing_ && !look_->isVisibleTo(this))
        button_->setText(tr("Print"));
    emit stateChanged();
}

/// Once for a song: what is open is said, and the next press prints all the same.
bool PrintPanel::mayPrint() {
    const std::filesystem::path song =
        document_.file().empty() ? document_.session().take().folder : document_.file();
    const bool known = asked_ && askedOf_ == song;
    if (!asking_ || known || openPlaces() == 0)
        return true;
    asked_ = true;
    askedOf_ = song;
    look_->show();
    button_->setText(tr("Print all the same"));
    emit notified(tr("%1 of the proof %2 open; print again to print all the same")
                      .arg(counted(openPlaces(), tr("place")), openPlaces() == 1 ? tr("is") : tr("are")));
    return false;
}

void PrintPanel::start() {
    if (printing_ || document_.session().empty() || !mayPrint())
        return;
    look_->hide();
    printing_ = true;
    button_->setText(tr("Stop printing"));
    progress_->setValue(0);
    progress_->show();
    done_->clear();
    const QString folder = folder_->text().isEmpty() ? defaultFolder() : folder_->text();
    PrintSettings settings{
        folder.toStdString(), allSampleFormats[format_->currentIndex()], {}, document_.protectedFiles()};
    last_ = QDir::toNativeSeparators(folder);
    emit stateChanged();
    thread_ = std::jthread([this, session = document_.session(), analyses = document_.analyses(),
                            outcome = document_.sharedOutcome(), settings](const std::stop_token& stop) mutable {
        const Progress progress{[this](double fraction) {
                                    QMetaObject::invokeMethod(
                                        this, [=, this] { progress_->setValue(static_cast<int>(fraction * 1000)); },
                                        Qt::QueuedConnection);
                                },
                                stop};
        const auto printed =
            withSearchedSeams(session, analyses, outcome, progress).and_then([&](const auto& joined) {
                return print(session, joined->plan, settings, progress);
            });
        const QString error = printed ? QString() : QString::fromStdString(printed.error().sentence);
        QMetaObject::invokeMethod(
            this, [=, this] { finish(error); }, Qt::QueuedConnection);
    });
}

void PrintPanel::finish(const QString& error) {
    printing_ = false;
    button_->setText(tr("Print"));
    progress_->hide();
    done_->setText(
        error.isEmpty()
            ? tr("%1 in %2.")
                  .arg(counted(std::ssize(document_.session().mics), tr("file is"), tr("files are")), last_)
            : error + QStringLiteral("."));
    if (error.isEmpty())
        emit printed(last_);
    else
        emit notified(error);
    emit stateChanged();
}

QString PrintPanel::state() const {
    if (printing_)
        return tr("printing");
    const QString done = last_.isEmpty() ? tr("not printed") : tr("printed");
    const auto open = openPlaces();
    return open == 0 ? done : tr("%1, %2 open").arg(done).arg(open);
}

} // namespace lampo
