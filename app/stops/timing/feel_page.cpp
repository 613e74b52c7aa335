#include "stops/timing/feel_page.h"

#include "advice/map_advice.h"
#include "look/file_to_write.h"
#include "look/ink.h"
#include "look/number.h"
#include "project/feel_file.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

namespace lampo {
namespace {

QString feelFiles() {
    return QObject::tr("Feels and MIDI files (*.lampo-feel *.mid *.midi)");
}

} // namespace

FeelPage::FeelPage(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, {}, parent), sheet_(sheet) {
    addUse();
    addSources();
    addCompanion();
    onChange([this] { fill(); });
    column()->addStretch(1);
    refresh();
}

void FeelPage::addUse() {
    where_ = new WhereBox(QStringLiteral("Feel where"), WhereBox::Offers::everySection);
    column()->addWidget(where_);
    connect(where_, &WhereBox::chosen, this, [this] { refresh(); });
    onChange([this] { where_->offer(document_.session()); }); // before anything asks what rules there
    auto* form = addForm();
    feels_ = new QComboBox;
    feels_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    feels_->setObjectName(QStringLiteral("Feel"));
    feels_->setAccessibleName(tr("Feel of the grid"));
    form->addRow(tr("Feel"), feels_);
    connect(feels_, &QComboBox::activated, this, [this](int index) {
        const QVariant name = feels_->itemData(index);
        std::optional<FeelUse> use;
        if (name.isValid())
            use = FeelUse{name.toString().toStdString(), ruling().amount};
        document_.perform(FeelEdit{UseFeel{where_->section(), use}});
    });
    addNumber(
        form, numberOf(tr("Amount"), limits::feelAmount), [this] { return ruling().amount; },
        [this](double value) -> std::optional<Edit> {
            if (ruling().straight())
                return std::nullopt;
            return FeelEdit{UseFeel{where_->section(), FeelUse{ruling().name, value}}};
        },
        true);
    name_ = new QLineEdit;
    name_->setObjectName(QStringLiteral("Feel name"));
    name_->setAccessibleName(tr("Name of the feel in use"));
    form->addRow(tr("Its name"), name_);
    connect(name_, &QLineEdit::editingFinished, this, [this] {
        const FeelUse use = ruling();
        const std::string typed = name_->text().trimmed().toStdString();
        if (!use.straight() && !typed.empty() && typed != use.name)
            document_.perform(FeelEdit{RenameFeel{use.name, typed}});
    });
    words_ = addNote();
    words_->setToolTip(tr("How far the places of the bar lie off the grid, at the song's first tempo"));
}

void FeelPage::addSources() {
    auto* passage = new QPushButton(tr("Take that of the chosen hits or the loop"));
    passage->setObjectName(QStringLiteral("Feel of passage"));
    column()->addWidget(passage);
    connect(passage, &QPushButton::clicked, this, &FeelPage::takeOfPassage);
    auto* row = new QHBoxLayout;
    from_ = new QComboBox;
    from_->setAccessibleName(tr("Companion to take the feel of"));
    from_->setObjectName(QStringLiteral("Feel companion"));
    auto* take = new QPushButton(tr("Take its feel"));
    take->setObjectName(QStringLiteral("Feel of companion"));
    row->addWidget(from_, 1);
    row->addWidget(take);
    column()->addLayout(row);
    connect(take, &QPushButton::clicked, this, [this] {
        const std::string companion = from_->currentText().toStdString();
        keep(feelOfCompanion(document_.session(), document_.analyses(), companion, freeName(companion)));
    });
    auto* files = new QHBoxLayout;
    auto* open = new QPushButton(tr("From a file…"));
    auto* save = new QPushButton(tr("To a file…"));
    auto* drop = new QPushButton(tr("Delete"));
    drop->setObjectName(QStringLiteral("Delete feel"));
    for (QPushButton* each : {open, save, drop})
        files->addWidget(each);
    column()->addLayout(files);
    connect(open, &QPushButton::clicked, this, [this] {
        if (const QString file = QFileDialog::getOpenFileName(this, tr("Feel from"), {}, feelFiles());
            !file.isEmpty())
            readFile(file);
    });
    connect(save, &QPushButton::clicked, this, [this] {
        if (const QString file =
                fileToWrite(this, tr("Feel to"), {}, tr("Feels (*.lampo-feel)"), QStringLiteral("lampo-feel"));
            !file.isEmpty())
            writeFile(file);
    });
    connect(drop, &QPushButton::clicked, this, [this] {
        if (const FeelUse use = ruling(); use.straight())
            emit notified(tr("Choose the feel to delete first"));
        else
            document_.perform(FeelEdit{DeleteFeel{use.name}});
    });
}

void FeelPage::addCompanion() {
    auto* form = addForm(tr("Tighten to a companion"));
    towards_ = new QComboBox;
    towards_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    towards_->setObjectName(QStringLiteral("Land on"));
    towards_->setAccessibleName(tr("Land on"));
    form->addRow(tr("Land on"), towards_);
    connect(towards_, &QComboBox::activated, this, [this](int index) {
        std::optional<CompanionLines> lines;
        if (index > 0) {
            lines = document_.session().companionLines.value_or(CompanionLines{});
            lines->name = document_.session().companions[static_cast<std::size_t>(index - 1)].name;
        }
        document_.perform(FeelEdit{FollowCompanion{lines}});
    });
    const auto set = [this](auto&& change) -> Edit {
        auto lines = document_.session().companionLines;
        if (lines)
            change(*lines);
        return FeelEdit{FollowCompanion{lines}};
    };
    addNumber(
        form, numberOf(tr("Where it is within"), limits::companionNear),
        [this] { return document_.session().companionLines.value_or(CompanionLines{}).near.value; },
        [=](double value) { return set([&](CompanionLines& lines) { lines.near = {value}; }); });
    addNumber(
        form, numberOf(tr("Louder than"), limits::threshold),
        [this] { return document_.session().companionLines.value_or(CompanionLines{}).threshold.value; },
        [=](double value) { return set([&](CompanionLines& lines) { lines.threshold = {value}; }); });
}

void FeelPage::fill() {
    const Session& session = document_.session();
    showFeels();
    towards_->clear();
    towards_->addItem(tr("the grid"));
    const QString kept = from_->currentText();
    from_->clear();
    for (const Companion& companion : session.companions) {
        towards_->addItem(QString::fromStdString(companion.name));
        from_->addItem(QString::fromStdString(companion.name));
    }
    from_->setCurrentIndex(std::max(0, from_->findText(kept)));
    towards_->setCurrentIndex(
        session.companionLines ? towards_->findText(QString::fromStdString(session.companionLines->name)) : 0);
}

/// What rules there.
FeelUse FeelPage::ruling() const {
    const Session& session = document_.session();
    const auto section = where_->section();
    return section ? session.timingIn(session.sections[*section]).feel : session.timing.feel;
}

void FeelPage::showFeels() {
    const Session& session = document_.session();
    const auto section = where_->section();
    const auto own = section ? session.sections[*section].feel : std::optional(session.timing.feel);
    feels_->clear();
    if (section)
        feels_->addItem(tr("as around it"));
    feels_->addItem(tr("straight"), QString());
    for (const Feel& feel : session.feels)
        feels_->addItem(QString::fromStdString(feel.name), QString::fromStdString(feel.name));
    feels_->setCurrentIndex(own ? feels_->findData(QString::fromStdString(own->name)) : 0);
    const FeelUse use = ruling();
    name_->setEnabled(!use.straight());
    if (!name_->hasFocus())
        name_->setText(QString::fromStdString(use.name));
    const Feel* feel = session.feelNamed(use.name);
    if (!feel)
        return words_->setText(tr("Lines lie where the map and the swing put them."));
    double early = 0, late = 0;
    for (const FeelPoint& point : feel->points) {
        early = std::min(early, point.late);
        late = std::max(late, point.late);
    }
    const double quarter = 60000 / session.map.tempos.front().bpm.value * use.amount / 100;
    words_->setText(tr("%1, %2 ms early to %3 ms late.")
                        .arg(counted(std::ssize(feel->points), tr("place")), number(-early * quarter, 0),
                             number(late * quarter, 0)));
}

std::string FeelPage::freeName(const std::string& wanted) const {
    std::string free = wanted;
    const auto& feels = document_.session().feels;
    for (int count = 2;
         std::any_of(feels.begin(), feels.end(), [&](const Feel& feel) { return feel.name == free; }); ++count)
        free = wanted + " " + std::to_string(count);
    return free;
}

/// Kept and in use, as one step.
void FeelPage::keep(const Expected<Feel>& feel) {
    if (!feel)
        return emit notified(QString::fromStdString(feel.error().sentence));
    const int gesture = Document::newGesture();
    document_.perform(FeelEdit{KeepFeel{*feel}}, gesture);
    document_.perform(FeelEdit{UseFeel{where_->section(), FeelUse{feel->name, 100}}}, gesture);
}

void FeelPage::takeOfPassage() {
    const SheetState& state = sheet_.state();
    const Session& session = document_.session();
    Range<SongFrame> range{SongFrame{state.loop.begin.frame}, SongFrame{state.loop.end.frame}};
    if (state.selection.size() > 1) {
        const auto line = [&](HitIndex hit) {
            const Landing& landing = document_.outcome().landings[hit];
            return landing.line ? landing.line->frame - landing.line->bent : landing.played;
        };
        range = {line(state.selection.front()), line(state.selection.back()) + FrameCount{1}};
    }
    if (range.empty())
        return emit notified(tr("Choose the hits of the passage, or draw a loop over it on the ruler"));
    const int bar = MusicalMap(session.map, session.rate).barAt(range.begin);
    keep(feelOfPassage(session, document_.outcome(), range, freeName("Bar " + std::to_string(bar))));
}

void FeelPage::readFile(const QString& file) {
    auto feel = readFeelFile(file.toStdString());
    if (feel)
        feel->name = freeName(feel->name);
    keep(feel);
}

void FeelPage::writeFile(const QString& file) {
    const Feel* feel = document_.session().feelNamed(ruling().name);
    if (!feel)
        return emit notified(tr("Choose the feel to write first"));
    const auto written = document_.protectedFiles().mayWrite(file.toStdString()).and_then([&] {
        return writeFeelFile(file.toStdString(), *feel);
    });
    emit notified(written ? tr("The feel %1 is in %2").arg(QString::fromStdString(feel->name), file)
                          : QString::fromStdString(written.error().sentence));
}

} // namespace lampo
