#include "shell/sources_dialog.h"

#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QVBoxLayout>

#include <algorithm>

namespace lampo {
namespace {

enum Column { fileColumn, micColumn, wrongColumn, insteadColumn };

QString text(const std::filesystem::path& path) {
    return QString::fromStdString(path.string());
}

QString wordsFor(SourceProblem::Kind kind) {
    switch (kind) {
    case SourceProblem::Kind::missing:
        return SourcesDialog::tr("is not there");
    case SourceProblem::Kind::otherLength:
        return SourcesDialog::tr("is of another length");
    case SourceProblem::Kind::otherContent:
        return SourcesDialog::tr("is another recording");
    case SourceProblem::Kind::unreadable:
        break;
    }
    return SourcesDialog::tr("cannot be read");
}

QString wordsFor(const std::optional<FoundSource>& found) {
    if (!found)
        return {};
    QString where = text(found->relocation.to);
    switch (found->by) {
    case FoundSource::By::content:
        return SourcesDialog::tr("%1 (the same content)").arg(where);
    case FoundSource::By::nameAndLength:
        return SourcesDialog::tr("%1 (the same name and length)").arg(where);
    case FoundSource::By::hand:
        break;
    }
    return where;
}

} // namespace

SourcesDialog::SourcesDialog(Document& document, QWidget* parent)
    : QDialog(parent), document_(document), words_(new QLabel), list_(new QTreeWidget),
      look_(new QPushButton(tr("Look in a folder…"))), choose_(new QPushButton(tr("Choose a file…"))),
      asItIs_(new QPushButton(tr("Take it as it is now"))), use_(new QPushButton(tr("Use what was found"))) {
    setWindowTitle(tr("Files of the recording"));
    setObjectName(QStringLiteral("Files of the recording"));
    resize(920, 420);
    list_->setHeaderLabels({tr("file"), tr("mic"), tr("what is wrong"), tr("instead")});
    list_->setAccessibleName(tr("Files that are not as they were"));
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    words_->setWordWrap(true);
    auto* column = new QVBoxLayout(this);
    column->addWidget(words_);
    column->addWidget(list_, 1);
    buildButtons();
    document_.recheckSources();
    refresh();
}

/// What looks for files does not outlive who asked.
SourcesDialog::~SourcesDialog() = default;

void SourcesDialog::buildButtons() {
    auto* row = new QHBoxLayout;
    auto* without = new QPushButton(tr("Go on without"));
    for (auto* button : {look_, choose_, asItIs_})
        row->addWidget(button);
    row->addStretch(1);
    row->addWidget(use_);
    row->addWidget(without);
    static_cast<QVBoxLayout*>(layout())->addLayout(row);
    connect(look_, &QPushButton::clicked, this, &SourcesDialog::askForFolder);
    connect(choose_, &QPushButton::clicked, this, &SourcesDialog::askForFile);
    connect(asItIs_, &QPushButton::clicked, this, &SourcesDialog::takeAsItIs);
    connect(use_, &QPushButton::clicked, this, &SourcesDialog::use);
    connect(without, &QPushButton::clicked, this, &QDialog::reject);
    connect(list_, &QTreeWidget::currentItemChanged, this, &SourcesDialog::enable);
}

void SourcesDialog::refresh() {
    const auto& problems = document_.sourceProblems();
    found_.resize(problems.size());
    list_->clear();
    for (std::size_t i = 0; i < problems.size(); ++i) {
        auto* item = new QTreeWidgetItem(list_);
        item->setText(fileColumn, text(problems[i].wanted.file.filename()));
        item->setToolTip(fileColumn, text(problems[i].wanted.file));
        item->setText(micColumn, QString::fromStdString(problems[i].mic));
        item->setText(wrongColumn, wordsFor(problems[i].kind));
        item->setToolTip(wrongColumn, QString::fromStdString(problems[i].error.sentence));
        item->setText(insteadColumn, wordsFor(found_[i]));
        item->setToolTip(insteadColumn, wordsFor(found_[i]));
    }
    for (const int column : {fileColumn, micColumn, wrongColumn})
        list_->resizeColumnToContents(column);
    if (!problems.empty())
        list_->setCurrentItem(list_->topLevelItem(0));
    words_->setText(
        problems.empty()
            ? tr("All files of the recording are where and what they were when they were brought in.")
            : tr("These files of the recording are not what they were when they were brought in. All that "
                 "was done with them is kept, and work goes on with the rest; a file that cannot be read "
                 "is silent."));
    enable();
}

void SourcesDialog::enable() {
    const auto row = current();
    look_->setText(looking_ ? tr("Stop looking") : tr("Look in a folder…"));
    look_->setEnabled(!found_.empty());
    choose_->setEnabled(row && !looking_);
    const auto kind = row ? document_.sourceProblems()[*row].kind : SourceProblem::Kind::missing;
    asItIs_->setEnabled(!looking_ &&
                        (kind == SourceProblem::Kind::otherLength || kind == SourceProblem::Kind::otherContent));
    use_->setEnabled(!looking_ && std::any_of(found_.begin(), found_.end(),
                                              [](const auto& found) { return found.has_value(); }));
    use_->setDefault(use_->isEnabled());
}

std::optional<std::size_t> SourcesDialog::current() const {
    const int row = list_->indexOfTopLevelItem(list_->currentItem());
    return row >= 0 ? std::optional(static_cast<std::size_t>(row)) : std::nullopt;
}

void SourcesDialog::askForFolder() {
    if (looking_)
        return void(thread_.request_stop());
    const QString folder = QFileDialog::getExistingDirectory(this, tr("Look in this folder and all below it"));
    if (!folder.isEmpty())
        lookIn(folder.toStdString());
}

void SourcesDialog::lookIn(const std::filesystem::path& folder) {
    looking_ = true;
    enable();
    thread_ = std::jthread([this, folder, problems = document_.sourceProblems(),
                            rate = document_.session().rate](const std::stop_token& stop) {
        auto found = findSources(problems, rate, folder, {{}, stop});
        QMetaObject::invokeMethod(
            this, [this, found = std::move(found)] { arrived(found); }, Qt::QueuedConnection);
    });
}

/// What was chosen by hand before stays where nothing was found.
void SourcesDialog::arrived(const Expected<std::vector<std::optional<FoundSource>>>& found) {
    looking_ = false;
    if (!found) {
        enable();
        if (found.error().kind != ErrorKind::cancelled)
            emit notified(QString::fromStdString(found.error().sentence));
        return;
    }
    for (std::size_t i = 0; i < std::min(found->size(), found_.size()); ++i)
        if ((*found)[i])
            found_[i] = (*found)[i];
    refresh();
}

void SourcesDialog::askForFile() {
    const QString file = QFileDialog::getOpenFileName(this, tr("Take this file instead"));
    if (!file.isEmpty())
        takeInstead(file.toStdString());
}

void SourcesDialog::takeInstead(const std::filesystem::path& file) {
    const auto row = current();
    if (!row)
        return;
    const auto instead = lampo::takeInstead(document_.sourceProblems()[*row], document_.session().rate, file);
    if (!instead)
        return emit notified(QString::fromStdString(instead.error().sentence));
    found_[*row] = *instead;
    refresh();
    list_->setCurrentItem(list_->topLevelItem(static_cast<int>(*row)));
}

void SourcesDialog::takeAsItIs() {
    if (const auto row = current())
        takeInstead(document_.sourceProblems()[*row].wanted.file);
}

void SourcesDialog::use() {
    std::vector<Relocation> relocations;
    for (const auto& found : found_)
        if (found)
            relocations.push_back(found->relocation);
    const auto session = std::make_shared<const Session>(relocated(document_.session(), relocations));
    if (!document_.perform(BringIn{session, tr("Files found again").toStdString()}))
        return;
    document_.recheckSources();
    found_.clear();
    refresh();
    if (document_.sourceProblems().empty())
        accept();
}

} // namespace lampo
