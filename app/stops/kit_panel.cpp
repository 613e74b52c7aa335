#include "stops/kit_panel.h"

#include "look/ink.h"
#include "look/number.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QTableWidget>
#include <QToolButton>

#include <algorithm>

namespace lampo {

KitPanel::KitPanel(Document& document, QWidget* parent) : Panel(document, tr("Kit"), parent) {
    addNote(tr("Guides are listened to for hits; the others only follow. Of guides that hear a hit together, the "
               "upper one gives its place. Drag the names at the left to change the order."));
    auto* which = new QComboBox;
    which->setObjectName(QStringLiteral("Kit take"));
    which->setAccessibleName(tr("The take whose files start as shown"));
    column()->addWidget(which);
    connect(which, &QComboBox::activated, this, [this](int take) {
        take_ = {static_cast<std::size_t>(take)};
        refresh();
    });
    onChange([this, which] {
        const auto& takes = document_.session().takes;
        if (take_ >= takes.size())
            take_ = {};
        which->setVisible(takes.size() > 1);
        if (which->count() == static_cast<int>(takes.size()))
            return;
        which->clear();
        for (const Take& take : takes)
            which->addItem(tr("Files of take %1").arg(QLatin1Char(take.letter.value)));
    });
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    list_ = new QWidget;
    list_->setLayout(new QGridLayout);
    list_->setStyleSheet(
        QStringLiteral("QLineEdit, QComboBox, QDoubleSpinBox { padding: 1px 3px; min-height: 0px; }"));
    area->setWidget(list_);
    column()->addWidget(area, 3);
    addChecks();
    addBleed();
    addFiles();
    onChangeWhileVisible([this] {
        rebuildIfNeeded();
        for (const auto& row : rows_)
            row();
        showBleed();
    });
    refresh();
}

/// Rows are made anew only when the mics or their order change.
void KitPanel::rebuildIfNeeded() {
    std::vector<std::string> stems;
    for (const Mic& mic : document_.session().mics)
        stems.push_back(mic.stem);
    if (stems == shown_)
        return;
    shown_ = stems;
    rows_.clear();
    auto* grid = static_cast<QGridLayout*>(list_->layout());
    while (QLayoutItem* item = grid->takeAt(0)) {
        if (QWidget* widget = item->widget())
            widget->deleteLater();
        delete item;
    }
    grid->setContentsMargins(0, 0, 4, 0);
    grid->setVerticalSpacing(2);
    grid->setHorizontalSpacing(4);
    const QStringList heads{tr("guide"), tr("called"), tr("drum"), tr("belongs to"), tr("starts, ms")};
    for (int head = 0; head < heads.size(); ++head) {
        auto* label = new QLabel(heads[head]);
        label->setFont(textFont(0.8));
        grid->addWidget(label, 0, head);
    }
    for (MicIndex mic; mic < stems.size(); ++mic)
        addRow(grid, mic);
    grid->setColumnStretch(1, 1);
    grid->setRowStretch(static_cast<int>(stems.size()) + 1, 1);
}

void KitPanel::addRow(QGridLayout* grid, MicIndex mic) {
    const QString stem = QString::fromStdString(shown_[mic]);
    const int row = static_cast<int>(mic) + 1;
    RowFields fields{};
    auto* guide = fields.guide = new QCheckBox;
    guide->setToolTip(tr("Listen to %1 for hits").arg(stem));
    guide->setAccessibleName(tr("%1 guides").arg(stem));
    guide->setObjectName(stem + QStringLiteral(" guide"));
    auto* called = fields.called = new QLineEdit;
    called->setAccessibleName(tr("Name of %1").arg(stem));
    called->setObjectName(stem + QStringLiteral(" name"));
    called->setToolTip(tr("%1: what it is called; its file keeps its name").arg(stem));
    auto* role = fields.role = new QComboBox;
    role->setFixedWidth(QFontMetrics(textFont()).averageCharWidth() * 11);
    role->setAccessibleName(tr("Drum of %1").arg(stem));
    role->setObjectName(stem + QStringLiteral(" drum"));
    for (const Role each : allRoles)
        role->addItem(QString::fromLatin1(name(each).data()));
    auto* group = fields.group = new QLineEdit;
    group->setFixedWidth(QFontMetrics(textFont()).averageCharWidth() * 9);
    group->setAccessibleName(tr("Group of %1").arg(stem));
    group->setObjectName(stem + QStringLiteral(" group"));
    group->setToolTip(tr("Mics that belong to one drum bear one word here"));
    auto* starts = fields.starts = new QDoubleSpinBox;
    starts->setFixedWidth(QFontMetrics(textFont()).averageCharWidth() * 8);
    starts->setRange(limits::fileStart.low, limits::fileStart.high);
    starts->setDecimals(2);
    starts->setButtonSymbols(QAbstractSpinBox::NoButtons);
    starts->setKeyboardTracking(false);
    starts->setAccessibleName(tr("Start of %1 in the take").arg(stem));
    starts->setObjectName(stem + QStringLiteral(" start"));
    starts->setToolTip(tr("Where this file begins in its take"));
    auto* up = fields.up = new QToolButton;
    up->setText(QStringLiteral("↑"));
    up->setAutoRaise(true);
    up->setEnabled(mic > 0);
    up->setAccessibleName(tr("Move %1 up").arg(stem));
    up->setObjectName(stem + QStringLiteral(" up"));
    int place = 0;
    for (QWidget* widget : std::initializer_list<QWidget*>{guide, called, role, group, starts, up}) {
        widget->setFixedHeight(QFontMetrics(textFont()).height() + 4);
        grid->addWidget(widget, row, place++);
    }
    connectRow(fields, mic);
    rows_.emplace_back([this, mic, fields] { showRow(fields, mic); });
}

void KitPanel::connectRow(const RowFields& fields, MicIndex mic) {
    connect(fields.guide, &QCheckBox::clicked, this, [this, mic](bool on) {
        document_.perform(SetGuide{mic, on});
    });
    connect(fields.called, &QLineEdit::editingFinished, this, [this, mic, called = fields.called] {
        document_.perform(SetLabel{mic, called->text().trimmed().toStdString()});
    });
    connect(fields.group, &QLineEdit::editingFinished, this, [this, mic, group = fields.group] {
        const std::string wanted = group->text().trimmed().toStdString();
        const Mic& now = document_.session().mics[mic];
        if (wanted != now.group)
            document_.perform(SetGroup{mic, wanted, now.linked});
    });
    connect(fields.role, &QComboBox::activated, this, [this, mic](int index) {
        document_.perform(SetRole{mic, allRoles[index]});
    });
    connect(fields.starts, &QDoubleSpinBox::valueChanged, this, [this, mic](double ms) {
        if (refreshing())
            return;
        SetOffsets edit{take_, std::vector<std::optional<FrameCount>>(document_.session().mics.size())};
        edit.offsets[mic] = toFrames(Milliseconds{ms}, document_.session().rate);
        document_.perform(edit);
    });
    connect(fields.up, &QToolButton::clicked, this, [this, mic] { document_.perform(MoveMic{mic, mic - 1}); });
}

void KitPanel::showRow(const RowFields& fields, MicIndex mic) {
    const Mic& now = document_.session().mics[mic];
    fields.guide->setChecked(now.guide);
    fields.role->setCurrentIndex(static_cast<int>(now.role));
    for (const auto& [field, text] :
         {std::pair(fields.called, now.shownName()), std::pair(fields.group, now.group)}) {
        field->setText(QString::fromStdString(text));
        field->setCursorPosition(0);
    }
    if (document_.session().empty())
        return;
    const SourceFile& file = document_.session().takes[take_].files[mic];
    fields.starts->setEnabled(!file.empty());
    fields.starts->setValue(toMilliseconds(file.offset, document_.session().rate).value);
}

void KitPanel::addChecks() {
    auto* note = addNote();
    note->setObjectName(QStringLiteral("Kit notices"));
    auto* together = new QPushButton(tr("Let them start together"));
    together->setObjectName(QStringLiteral("Start together"));
    column()->addWidget(together);
    connect(together, &QPushButton::clicked, this, [this] {
        const int gesture = Document::newGesture();
        for (const KitCheck& check : std::vector(document_.kitChecks()))
            if (!check.starts.empty())
                document_.perform(startTogetherEdit(document_.session(), check), gesture);
    });
    const auto show = [=, this] {
        const QString text = notices();
        note->setText(text);
        note->setVisible(!text.isEmpty());
        const auto& checks = document_.kitChecks();
        together->setVisible(
            std::any_of(checks.begin(), checks.end(), [](const KitCheck& check) { return !check.starts.empty(); }));
    };
    onChange(show);
    connect(&document_, &Document::kitChecked, this, show);
}

QString KitPanel::notices() const {
    const Session& session = document_.session();
    const auto nameOf = [&](MicIndex mic) {
        return mic < session.mics.size() ? QString::fromStdString(session.mics[mic].shownName()) : QString();
    };
    QStringList lines;
    for (const Take& take : session.takes)
        for (MicIndex mic; mic < session.mics.size(); ++mic)
            if (take.files[mic].empty())
                lines << tr("Take %1 has no file for %2.").arg(QLatin1Char(take.letter.value)).arg(nameOf(mic));
    lines += idleNotices();
    for (const KitCheck& check : document_.kitChecks()) {
        if (check.take >= session.takes.size())
            continue;
        const QLatin1Char letter(session.takes[check.take].letter.value);
        for (const FalseStart& start : check.starts)
            lines << tr("%1 does not start with the others in take %2: it lies %3 ms %4, say %5 % of its strokes.")
                         .arg(nameOf(start.mic))
                         .arg(letter)
                         .arg(std::abs(toMilliseconds(start.late, session.rate).value), 0, 'f', 1)
                         .arg(start.late.frames > 0 ? tr("behind") : tr("ahead"))
                         .arg(100 * start.agreed, 0, 'f', 0);
    }
    return (lines + polarityNotices()).join(QLatin1Char('\n'));
}

/// A drum that nobody struck explains nothing, and its mic gives no hits: said, in case it was struck.
QStringList KitPanel::idleNotices() const {
    const Session& session = document_.session();
    QStringList lines;
    for (TakeIndex take; !session.empty() && take < document_.outcome().takes.size(); ++take) {
        const TakeStrokes& strokes = *document_.outcome().takes[take]->strokes;
        for (MicIndex mic; mic < session.mics.size() && mic < strokes.drums.size(); ++mic)
            if (strokes.isIdle(mic))
                lines << tr("%1: its drum is not heard in take %2.")
                             .arg(QString::fromStdString(session.mics[mic].shownName()))
                             .arg(QLatin1Char(session.takes[take].letter.value));
    }
    return lines;
}

/// One line for each pair, however many takes show it.
QStringList KitPanel::polarityNotices() const {
    const Session& session = document_.session();
    std::map<std::pair<std::size_t, std::size_t>, QString> letters;
    for (const KitCheck& check : document_.kitChecks())
        for (const PolarityPair& pair : check.polarity)
            if (pair.opposite() && check.take < session.takes.size() && pair.second < session.mics.size())
                letters[{pair.first, pair.second}] += QLatin1Char(session.takes[check.take].letter.value);
    QStringList lines;
    for (const auto& [mics, takes] : letters)
        lines << tr("%1 and %2 are of opposite polarity (%3 %4); that is left as it is.")
                     .arg(QString::fromStdString(session.mics[mics.first].shownName()),
                          QString::fromStdString(session.mics[mics.second].shownName()),
                          takes.size() == 1 ? tr("take") : tr("takes"),
                          takes.split(QString(), Qt::SkipEmptyParts).join(QStringLiteral(", ")));
    return lines;
}

void KitPanel::addBleed() {
    auto* heading = new QLabel(tr("How loud and how late each drum is in each mic (dB · ms)"));
    heading->setFont(textFont(0.92, true));
    heading->setToolTip(tr("Learned from this recording: dB against the same stroke in its own mic, and "
                           "milliseconds"));
    column()->addWidget(heading);
    bleed_ = new QTableWidget;
    bleed_->setObjectName(QStringLiteral("Bleed table"));
    bleed_->setAccessibleName(tr("Bleed: rows are mics, columns are drums"));
    bleed_->setFont(textFont(0.8));
    bleed_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    bleed_->setSelectionMode(QAbstractItemView::NoSelection);
    bleed_->setShowGrid(false);
    bleed_->horizontalHeader()->setFont(textFont(0.75));
    bleed_->verticalHeader()->setFont(textFont(0.75));
    bleed_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    bleed_->verticalHeader()->setDefaultSectionSize(QFontMetrics(textFont(0.8)).height() + 1);
    column()->addWidget(bleed_, 2);
}

void KitPanel::showBleed() {
    const Session& session = document_.session();
    const auto strokes = session.empty() ? nullptr : document_.outcome().takes[take_]->strokes;
    if (strokes == shownStrokes_)
        return;
    shownStrokes_ = strokes;
    std::vector<MicIndex> drums;
    for (MicIndex mic; strokes && mic < session.mics.size(); ++mic)
        if (session.mics[mic].role != Role::overhead && strokes->drums[mic].isWitness)
            drums.push_back(mic);
    bleed_->clear();
    bleed_->setRowCount(strokes ? static_cast<int>(session.mics.size()) : 0);
    bleed_->setColumnCount(static_cast<int>(drums.size()));
    for (int row = 0; row < bleed_->rowCount(); ++row) {
        const MicIndex mic{static_cast<std::size_t>(row)};
        bleed_->setVerticalHeaderItem(row,
                                      new QTableWidgetItem(QString::fromStdString(session.mics[mic].shownName())));
        for (int at = 0; at < bleed_->columnCount(); ++at) {
            const MicIndex drum = drums[static_cast<std::size_t>(at)];
            bleed_->setHorizontalHeaderItem(
                at, new QTableWidgetItem(QString::fromStdString(session.mics[drum].shownName())));
            auto* item = new QTableWidgetItem(pathText(*strokes, drum, mic));
            item->setTextAlignment(Qt::AlignCenter);
            bleed_->setItem(row, at, item);
        }
    }
}

/// "−18 · 2.1": dB and ms.
QString KitPanel::pathText(const TakeStrokes& strokes, MicIndex drum, MicIndex mic) {
    if (drum == mic)
        return strokes.isIdle(drum) ? tr("not heard") : tr("own");
    const DrumPath& path = strokes.paths.at(drum, mic);
    if (path.strokes == 0 || strokes.isIdle(drum))
        return {};
    const auto level = lossOf(path, strokes.drums[drum]);
    return tr("%1 · %2").arg(number(level.value, 0), number(path.late.value, 1));
}

void KitPanel::addFiles() {
    auto* grid = new QGridLayout;
    const auto button = [&](const QString& text, const char* objectName, auto signal, int row, int at) {
        auto* made = new QPushButton(text);
        made->setObjectName(QLatin1String(objectName));
        grid->addWidget(made, row, at);
        connect(made, &QPushButton::clicked, this, signal);
    };
    button(tr("Bring in takes…"), "Bring in takes", &KitPanel::bringInWanted, 0, 0);
    button(tr("Add a companion…"), "Add a companion", &KitPanel::companionWanted, 0, 1);
    button(tr("Keep this kit…"), "Keep this kit", &KitPanel::keepWanted, 1, 0);
    button(tr("Use a kept kit…"), "Use a kept kit", &KitPanel::useWanted, 1, 1);
    column()->addLayout(grid);
}

QString KitPanel::state() const {
    const auto& mics = document_.session().mics;
    if (mics.empty())
        return tr("no mics yet");
    const auto guides = std::count_if(mics.begin(), mics.end(), [](const Mic& mic) { return mic.guide; });
    return tr("%1, %2").arg(counted(std::ssize(mics), tr("mic")), counted(guides, tr("guide")));
}

} // namespace lampo
