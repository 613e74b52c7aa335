#include "stops/versions_panel.h"

#include "look/ink.h"
#include "look/names.h"
#include "look/number.h"
#include "stops/drop_list.h"
#include "stops/hearable.h"

#include <QComboBox>
#include <QDateTime>
#include <QGridLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>

#include <algorithm>

namespace lampo {

VersionsPanel::VersionsPanel(Document& document, QWidget* parent) : Panel(document, tr("Versions"), parent) {
    addHearing();
    addVersions();
    addComparison();
    onChange([this] {
        showVersions();
        showHearing();
        compare();
    });
    refresh();
}

void VersionsPanel::addHearing() {
    auto* form = addForm();
    hear_ = new QComboBox;
    hear_->setObjectName(QStringLiteral("Hear"));
    hear_->setAccessibleName(tr("Hear"));
    hear_->setToolTip(tr("From one to the other at the same place, without a gap; Shift+V goes to and fro"));
    hear_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    form->addRow(tr("Hear"), hear_);
    connect(hear_, &QComboBox::activated, this,
            [this](int index) { emit monitorWanted(choices_[static_cast<std::size_t>(index)]); });
}

void VersionsPanel::addVersions() {
    auto* form = addForm(tr("Kept versions of the edit"));
    name_ = new QLineEdit;
    name_->setObjectName(QStringLiteral("Version name"));
    name_->setAccessibleName(tr("Name of the version to keep"));
    auto* keepIt = new QPushButton(tr("Keep it"));
    keepIt->setObjectName(QStringLiteral("Keep version"));
    auto* row = new QHBoxLayout;
    row->addWidget(name_, 1);
    row->addWidget(keepIt);
    form->addRow(tr("As it is now"), row);
    list_ = new DropList;
    list_->setObjectName(QLatin1String(names::versionsList));
    list_->setAccessibleName(tr("Kept versions: Enter goes back to one, F2 names it anew, Delete drops it"));
    list_->setEditTriggers(QAbstractItemView::EditKeyPressed);
    column()->addWidget(list_, 1);
    auto* buttons = new QGridLayout;
    int place = 0;
    const auto add = [&](const char* name, const QString& text, const QString& tip,
                         std::function<void(std::size_t)> call) {
        auto* button = new QPushButton(text);
        button->setObjectName(QLatin1String(name));
        button->setToolTip(tip);
        buttons->addWidget(button, place / 2, place % 2);
        ++place;
        needVersion_.push_back(button);
        connect(button, &QPushButton::clicked, this, [this, call = std::move(call)] {
            if (const auto version = chosen())
                call(*version);
        });
    };
    add("Restore version", tr("Go back to it"), tr("One step, which can be undone; the kept versions stay"),
        [this](std::size_t version) { document_.perform(RestoreVersion{version}); });
    add("Hear version", tr("Hear it"), tr("At the same place, without a gap"), [this](std::size_t version) {
        emit monitorWanted({Monitored::Kind::version, version});
    });
    add("Duplicate version", tr("Duplicate"), tr("A copy under another name"), [this](std::size_t version) {
        const auto name = tr("%1, again").arg(QString::fromStdString(document_.session().versions[version].name));
        document_.perform(DuplicateVersion{version, name.toStdString()});
    });
    add("Delete version", tr("Delete"), tr("Can be undone"),
        [this](std::size_t version) { document_.perform(DeleteVersion{version}); });
    column()->addLayout(buttons);
    connect(keepIt, &QPushButton::clicked, this, &VersionsPanel::keep);
    connect(name_, &QLineEdit::returnPressed, this, &VersionsPanel::keep);
    connect(list_, &QListWidget::currentRowChanged, this, [this] { compare(); });
    connect(list_, &QListWidget::itemChanged, this, [this](QListWidgetItem* item) {
        const auto version = static_cast<std::size_t>(list_->row(item));
        document_.perform(RenameVersion{version, item->text().trimmed().toStdString()});
    });
    connect(list_, &DropList::dropWanted, this,
            [this](int dropped) { document_.perform(DeleteVersion{static_cast<std::size_t>(dropped)}); });
    connect(list_, &QListWidget::itemActivated, this, [this] {
        if (const auto version = chosen())
            document_.perform(RestoreVersion{*version});
    });
}

void VersionsPanel::addComparison() {
    against_ = new QLabel;
    against_->setFont(textFont(1.0, true));
    against_->setWordWrap(true);
    column()->addWidget(against_);
    words_ = new QListWidget;
    words_->setObjectName(QStringLiteral("Differences"));
    words_->setAccessibleName(tr("What differs"));
    words_->setWordWrap(true);
    words_->setFont(textFont(0.92));
    words_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column()->addWidget(words_, 2);
    connect(words_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row < 0)
            return;
        const auto& where = differences_[static_cast<std::size_t>(row)].where;
        if (!where.empty())
            emit placeChosen(asResult(where.front().begin));
    });
}

void VersionsPanel::keep() {
    if (document_.session().empty())
        return;
    const QDateTime now = QDateTime::currentDateTime();
    const QString typed = name_->text().trimmed();
    const QString name = typed.isEmpty() ? tr("Version %1").arg(document_.session().versions.size() + 1) : typed;
    if (document_.perform(
            KeepVersion{name.toStdString(), now.toString(QStringLiteral("yyyy-MM-dd hh:mm")).toStdString(), {}})) {
        name_->clear();
        list_->setCurrentRow(list_->count() - 1);
    }
}

std::optional<std::size_t> VersionsPanel::chosen() const {
    const int row = list_->currentRow();
    return row >= 0 && row < static_cast<int>(document_.session().versions.size())
               ? std::optional(static_cast<std::size_t>(row))
               : std::nullopt;
}

void VersionsPanel::showVersions() {
    const QSignalBlocker quiet(list_);
    const int kept = list_->currentRow();
    list_->clear();
    for (const Version& version : document_.session().versions) {
        auto* item = new QListWidgetItem(QString::fromStdString(version.name), list_);
        item->setFlags(item->flags() | Qt::ItemIsEditable);
        item->setToolTip(version.print.empty() ? tr("Kept %1").arg(QString::fromStdString(version.kept))
                                               : tr("Kept %1, printed to %2")
                                                     .arg(QString::fromStdString(version.kept),
                                                          QString::fromStdString(version.print.string())));
    }
    list_->setCurrentRow(std::min(kept, list_->count() - 1));
    name_->setPlaceholderText(tr("Version %1").arg(document_.session().versions.size() + 1));
    for (QPushButton* button : needVersion_)
        button->setEnabled(list_->currentRow() >= 0);
}

/// The takes as recorded, the edit, and what was kept or printed.
void VersionsPanel::showHearing() {
    const Session& session = document_.session();
    const QSignalBlocker quiet(hear_);
    hear_->clear();
    choices_.clear();
    const auto add = [&](const Hearable& one) {
        hear_->addItem(one.first);
        choices_.push_back(one.second);
    };
    add({tr("the edit, everything open"), {}});
    for (const auto& some : {hearableTakes(session), hearableVersions(session)})
        std::for_each(some.begin(), some.end(), add);
    const auto found = std::find(choices_.begin(), choices_.end(), now_);
    hear_->setCurrentIndex(found == choices_.end() ? 0 : static_cast<int>(found - choices_.begin()));
}

void VersionsPanel::showMonitored(const Monitored& what) {
    const auto note = [&] { // the edit in some way of its own is no other one
        if (now_.kind == Monitored::Kind::take || now_.kind == Monitored::Kind::version ||
            now_.kind == Monitored::Kind::print)
            other_ = now_;
    };
    note();
    now_ = what;
    note();
    showHearing();
}

void VersionsPanel::monitorOther() {
    if (now_.kind != Monitored::Kind::edit)
        return emit monitorWanted({});
    if (const auto version = chosen(); !other_ && version)
        other_ = Monitored{Monitored::Kind::version, *version};
    if (other_)
        emit monitorWanted(*other_);
}

void VersionsPanel::compare() {
    const auto version = chosen();
    for (QPushButton* button : needVersion_)
        button->setEnabled(version.has_value());
    const QSignalBlocker quiet(words_);
    words_->clear();
    differences_.clear();
    std::vector<Range<SongFrame>> where;
    if (version) {
        const Version& kept = document_.session().versions[*version];
        differences_ = differencesOf(*kept.session, document_.session());
        against_->setText(differences_.empty() ? tr("The edit is as in %1").arg(QString::fromStdString(kept.name))
                                               : tr("The edit against %1").arg(QString::fromStdString(kept.name)));
        for (const Difference& difference : differences_) {
            words_->addItem(QString::fromStdString(difference.words));
            where.insert(where.end(), difference.where.begin(), difference.where.end());
        }
    } else {
        against_->clear();
    }
    words_->setVisible(!differences_.empty());
    emit compared(isVisible() ? where : std::vector<Range<SongFrame>>{});
}

void VersionsPanel::hideEvent(QHideEvent*) {
    emit compared({});
}

void VersionsPanel::showEvent(QShowEvent*) {
    compare();
}

QString VersionsPanel::state() const {
    return counted(std::ssize(document_.session().versions), tr("version"));
}

} // namespace lampo
