#include "stops/print/print_panel.h"

#include "base/text.h"
#include "deliver/about_print.h"
#include "pipeline/searched_seams.h"
#include "stops/pages.h"

#include <QDir>
#include <QScrollArea>

#include <algorithm>

namespace lampo {

PrintPanel::PrintPanel(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, tr("Print"), parent), sound_(new SoundPage(document)), notes_(new NotesPage(document)) {
    auto* edit = new EditPage(document);
    auto* samples = new SamplesPage(document, sheet);
    auto* files = new QWidget;
    auto* column = new QVBoxLayout(files);
    column->setContentsMargins({});
    column->addWidget(sound_);
    auto* pages = new Pages;
    pages->add(tr("Sound"), files);
    pages->add(tr("Notes"), notes_);
    pages->add(tr("Samples"), samples);
    pages->add(tr("The edit"), edit);
    this->column()->addWidget(pages, 1);
    open_ = new QLabel;
    open_->setWordWrap(true);
    open_->setObjectName(QStringLiteral("Open places"));
    look_ = new QPushButton(tr("Look at them first"));
    look_->setObjectName(QStringLiteral("Look at places"));
    look_->hide();
    column->addWidget(open_);
    column->addWidget(look_);
    addQuestions();
    column->addWidget(earlier_);
    button_ = new QPushButton(tr("Print"));
    button_->setObjectName(QStringLiteral("Print button"));
    progress_ = new QProgressBar;
    progress_->setRange(0, 1000);
    progress_->hide();
    done_ = new QLabel;
    done_->setWordWrap(true);
    done_->setObjectName(QStringLiteral("Print done"));
    for (QWidget* each : std::initializer_list<QWidget*>{button_, progress_, done_})
        column->addWidget(each);
    column->addStretch(1);
    connect(look_, &QPushButton::clicked, this, &PrintPanel::placesWanted);
    connect(button_, &QPushButton::clicked, this, [this] { printing_ ? (void)thread_.request_stop() : start(); });
    connect(edit, &EditPage::notified, this, &PrintPanel::notified);
    connect(samples, &SamplesPage::notified, this, &PrintPanel::notified);
    connect(notes_, &NotesPage::notified, this, &PrintPanel::notified);
    connect(notes_, &NotesPage::heardChanged, this, &PrintPanel::heardChanged);
    connect(&document_, &Document::proofChanged, this, &PrintPanel::showOpen);
    onChange([this] { button_->setEnabled(!document_.session().empty()); });
    refresh();
}

PrintPanel::~PrintPanel() {
    thread_ = {};
}

void PrintPanel::addQuestions() {
    earlier_ = new QWidget;
    earlier_->setObjectName(QStringLiteral("Earlier files"));
    auto* column = new QVBoxLayout(earlier_);
    column->setContentsMargins({});
    auto* question = new QLabel(tr("Files of an earlier print are in this folder."));
    question->setWordWrap(true);
    column->addWidget(question);
    for (const auto& [title, name, answer] :
         {std::tuple{tr("Replace them"), "Replace earlier", Earlier::replace},
          {tr("Keep them, number the new ones"), "Number new", Earlier::number}}) {
        auto* button = new QPushButton(title);
        button->setObjectName(QLatin1String(name));
        column->addWidget(button);
        connect(button, &QPushButton::clicked, this, [this, answer = answer] {
            answer_ = answer;
            start();
        });
    }
    earlier_->hide();
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

/// Each time: what is there may be another print's.
bool PrintPanel::mayReplace(PrintSettings& settings) {
    const auto answer = std::exchange(answer_, std::nullopt);
    if (answer || !asking_) {
        settings.earlier = answer.value_or(Earlier::replace);
        return true;
    }
    if (!replacesEarlier(document_.session(), settings))
        return true;
    earlier_->show();
    emit notified(tr("Files of an earlier print are in this folder: replace or keep them?"));
    return false;
}

void PrintPanel::start() {
    if (printing_ || document_.session().empty() || !mayPrint())
        return;
    auto settings = sound_->settings();
    if (!settings)
        return finish(QString::fromStdString(settings.error().sentence), 0);
    if (sound_->wantsAbout())
        settings->about =
            PrintedText{settings->folder / (asFileName(document_.session().title + " print") + ".txt"), {}};
    if (mayReplace(*settings))
        run(*settings);
}

void PrintPanel::run(const PrintSettings& wanted) {
    look_->hide();
    earlier_->hide();
    printing_ = true;
    button_->setText(tr("Stop printing"));
    progress_->setValue(0);
    progress_->show();
    done_->clear();
    last_ = QDir::toNativeSeparators(QString::fromStdString(wanted.folder.string()));
    emit stateChanged();
    const std::optional<ProofSummary> figures =
        document_.proofIsOfNow() ? std::optional(document_.proof().proof.summary) : std::nullopt;
    thread_ = std::jthread([this, session = document_.session(), analyses = document_.analyses(),
                            outcome = document_.sharedOutcome(), figures,
                            settings = wanted](const std::stop_token& stop) mutable {
        const Progress progress{[this](double fraction) {
                                    QMetaObject::invokeMethod(
                                        this, [=, this] { progress_->setValue(static_cast<int>(fraction * 1000)); },
                                        Qt::QueuedConnection);
                                },
                                stop};
        const auto printed =
            withSearchedSeams(session, analyses, outcome, progress).and_then([&](const auto& joined) {
                if (settings.about)
                    settings.about->text =
                        aboutPrint(session, settings, figures ? *figures : summaryOf(session, *joined, {}),
                                   figures.has_value());
                return sampleTracks(session, *joined, progress).and_then([&](std::vector<SampleTrack> tracks) {
                    settings.samples = std::move(tracks);
                    return print(session, joined->plan, settings, progress);
                });
            });
        const QString error = printed ? QString() : QString::fromStdString(printed.error().sentence);
        const auto files = printed ? std::ssize(printed->sounds) : 0;
        QMetaObject::invokeMethod(
            this, [=, this] { finish(error, files); }, Qt::QueuedConnection);
    });
}

void PrintPanel::finish(const QString& error, std::ptrdiff_t files) {
    printing_ = false;
    button_->setText(tr("Print"));
    progress_->hide();
    done_->setText(error.isEmpty() ? tr("%1 in %2.").arg(counted(files, tr("file is"), tr("files are")), last_)
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
