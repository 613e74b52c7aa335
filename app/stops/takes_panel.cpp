#include "stops/takes_panel.h"

#include "base/text.h"
#include "look/ink.h"
#include "stops/drop_list.h"
#include "takes/takes_words.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>

#include <cmath>

namespace lampo {
namespace {

enum Column { late, unsteady, uneven, strokes, marks, columns };

QPixmap swatch(const QColor& colour) {
    QPixmap picture(14, 14);
    picture.fill(colour);
    return picture;
}

} // namespace

TakesPanel::TakesPanel(Document& document, TakeStrip& strip, QWidget* parent)
    : Panel(document, tr("Takes"), parent), strip_(strip) {
    addTakes();
    addRange();
    addTries();
    addBorder();
    column()->addStretch(1);
    onChange([this] {
        showTakes();
        showRange();
        showTries();
        showBorder();
    });
    connect(&strip_, &TakeStrip::chosen, this, [this] { refresh(); });
    refresh();
}

/// Borders are listened to only while the panel is seen.
void TakesPanel::showEvent(QShowEvent*) {
    refresh();
}

void TakesPanel::addTakes() {
    grid_ = new QGridLayout;
    grid_->setHorizontalSpacing(6);
    grid_->setVerticalSpacing(3);
    column()->addLayout(grid_);
    auto* form = addForm();
    auto* snap = new QComboBox;
    snap->setObjectName(QStringLiteral("Snap"));
    snap->setAccessibleName(tr("Sweeps and borders keep to"));
    snap->addItems({tr("bars"), tr("hits"), tr("nothing")});
    snap->setToolTip(tr("While dragging, Ctrl frees"));
    form->addRow(tr("Sweeps and borders keep to"), snap);
    connect(snap, &QComboBox::currentIndexChanged, this,
            [this](int index) { strip_.setSnap(static_cast<Snap>(index)); });
}

void TakesPanel::showTakes() {
    const Session& session = document_.session();
    if (rowsFor_ != session.takes.size()) {
        while (QLayoutItem* item = grid_->takeAt(0)) {
            delete item->widget();
            delete item;
        }
        rows_.clear();
        rowsFor_ = session.takes.size();
        for (std::size_t take = 0; take < rowsFor_; ++take)
            addTakeRow(take);
    }
    for (const auto& row : rows_)
        row();
}

void TakesPanel::addTakeRow(std::size_t take) {
    const int row = static_cast<int>(take);
    const QString letter(QLatin1Char(document_.session().takes[take].letter));
    auto* tint = new QToolButton;
    tint->setToolTip(tr("Another tint"));
    tint->setAccessibleName(tr("Tint of take %1").arg(letter));
    auto* throughout = new QPushButton(letter);
    throughout->setObjectName(QStringLiteral("Take %1 throughout").arg(letter));
    throughout->setToolTip(tr("Take %1 sounds throughout").arg(letter));
    throughout->setFixedWidth(QFontMetrics(textFont()).horizontalAdvance(QLatin1Char('M')) + 18);
    auto* note = new QLineEdit;
    note->setObjectName(QStringLiteral("Note of take %1").arg(letter));
    note->setAccessibleName(note->objectName());
    note->setPlaceholderText(tr("a note"));
    auto* start = new QDoubleSpinBox;
    start->setObjectName(QStringLiteral("Start of take %1").arg(letter));
    start->setAccessibleName(start->objectName());
    start->setRange(-36000, 36000);
    start->setDecimals(4);
    start->setSuffix(tr(" s"));
    start->setButtonSymbols(QAbstractSpinBox::NoButtons);
    start->setKeyboardTracking(false);
    start->setToolTip(tr("Where its files begin on the click's time"));
    grid_->addWidget(tint, row, 0);
    grid_->addWidget(throughout, row, 1);
    grid_->addWidget(note, row, 2);
    grid_->addWidget(start, row, 3);
    if (take > 0) {
        const QString first(QLatin1Char(document_.session().takes[0].letter));
        auto* lineUp = new QPushButton(tr("Line up with %1").arg(first));
        lineUp->setObjectName(QStringLiteral("Line up take %1").arg(letter));
        lineUp->setToolTip(tr("Makes it begin where its strokes fall together with those of take %1").arg(first));
        grid_->addWidget(lineUp, row, 4);
        connect(lineUp, &QPushButton::clicked, this, [this, take] { emit lineUpWanted(take, 0); });
    }
    connect(tint, &QToolButton::clicked, this, [this, take] {
        const int now = document_.session().takes[take].tint.value_or(static_cast<int>(take % takeTints));
        document_.perform(SetTakeTint{take, (now + 1) % takeTints});
    });
    connect(throughout, &QPushButton::clicked, this, [this, take] { document_.perform(ChooseTake{take}); });
    connect(note, &QLineEdit::editingFinished, this, [this, take, note] {
        if (note->text().toStdString() != document_.session().takes[take].note)
            document_.perform(SetTakeNote{take, note->text().trimmed().toStdString()});
    });
    connect(start, &QDoubleSpinBox::valueChanged, this, [this, take](double seconds) {
        if (!refreshing())
            document_.perform(SetTakeStart{take, toFrames(Seconds{seconds}, document_.session().rate)});
    });
    rows_.push_back([this, take, tint, note, start] {
        const Session& session = document_.session();
        tint->setIcon(swatch(strip_.state().sheet->ink.ofTake(session, take)));
        note->setText(QString::fromStdString(session.takes[take].note));
        start->setValue(toSeconds(session.takes[take].start, session.rate).value);
    });
}

void TakesPanel::addRange() {
    chosen_ = new QLabel;
    chosen_->setFont(textFont(1.0, true));
    chosen_->setObjectName(QStringLiteral("Chosen range"));
    column()->addWidget(chosen_);
    measures_ = new QTableWidget(0, columns);
    measures_->setObjectName(QStringLiteral("Measures"));
    measures_->setAccessibleName(tr("How each take played the chosen range"));
    measures_->setHorizontalHeaderLabels(
        {tr("Late, ms"), tr("Unsteady"), tr("Uneven"), tr("Strokes"), tr("Marks")});
    const QStringList tips{
        tr("Mean against the lines; early is negative"), tr("How much lateness changes from stroke to stroke, ms"),
        tr("How far levels lie from those of the other takes, dB"),
        tr("Missing (−) and surplus (+) strokes against the other takes"), tr("Yours: R and 1 to 3")};
    for (int i = 0; i < columns; ++i)
        measures_->horizontalHeaderItem(i)->setToolTip(tips[i]);
    measures_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    measures_->setSelectionMode(QAbstractItemView::NoSelection);
    measures_->setFocusPolicy(Qt::NoFocus);
    measures_->setShowGrid(false);
    measures_->setFont(textFont(0.88));
    measures_->horizontalHeader()->setFont(textFont(0.8));
    measures_->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    measures_->verticalHeader()->setDefaultSectionSize(QFontMetrics(textFont(0.88)).height() + 3);
    measures_->verticalHeader()->setFont(textFont(0.88, true));
    column()->addWidget(measures_);
    auto* buttons = new QGridLayout;
    int place = 0;
    const auto add = [&](const char* action, const QString& text, const QString& tip) {
        auto* button = new QPushButton(text);
        button->setObjectName(QLatin1String(action) + QStringLiteral(" button"));
        button->setToolTip(tip);
        buttons->addWidget(button, place / 2, place % 2);
        ++place;
        connect(button, &QPushButton::clicked, this, [this, action] { emit triggered(action); });
    };
    add("next-take", tr("The next take here"), tr("T; Shift+T goes back. While it loops, the sound goes on"));
    add("keep-try", tr("Keep as a try"), tr("Y; Shift+Y lays the next one kept here"));
    add("lay-rated", tr("Best rated bars together"), tr("Bars without marks stay as they are"));
    add("suggest-comp", tr("Suggest a comp"), tr("By steadiness, levels and missing strokes: a starting point"));
    column()->addLayout(buttons);
}

/// All bars of a range together: means by strokes, counts added up.
BarMeasure TakesPanel::measured(std::size_t take, int first, int last) const {
    BarMeasure all;
    double late = 0, steady = 0, even = 0;
    for (int bar = first; bar <= last; ++bar) {
        const BarMeasure* one = strip_.state().measures.of(take, bar);
        if (!one)
            continue;
        const auto weight = static_cast<double>(one->strokes);
        late += weight * one->mean.value;
        steady += weight * one->unsteady.value * one->unsteady.value;
        even += weight * one->uneven.value * one->uneven.value;
        all.strokes += one->strokes;
        all.missing += one->missing;
        all.extra += one->extra + one->clashes;
    }
    if (all.strokes > 0) {
        const auto count = static_cast<double>(all.strokes);
        all.mean = {late / count};
        all.unsteady = {std::sqrt(steady / count)};
        all.uneven = {std::sqrt(even / count)};
    }
    return all;
}

void TakesPanel::showRange() {
    const Session& session = document_.session();
    const auto range = strip_.state().range;
    const MusicalMap map(session.map, session.rate.hz > 0 ? session.rate : SampleRate{48000});
    const bool whole = range.empty();
    chosen_->setText(session.empty() ? QString()
                     : whole         ? tr("The whole song")
                                     : rangeWords(session, range).replace(0, 1, QLatin1Char('B')));
    const int first = whole ? strip_.state().measures.firstBar : map.barAt(range.begin);
    const int last = whole ? strip_.state().measures.endBar() - 1 : map.barAt(range.end - FrameCount{1});
    measures_->setRowCount(static_cast<int>(session.takes.size()));
    QStringList letters;
    for (std::size_t take = 0; take < session.takes.size(); ++take) {
        letters << QString(QLatin1Char(session.takes[take].letter));
        const BarMeasure all = measured(take, first, last);
        int given = 0;
        for (int bar = first; bar <= last; ++bar)
            given += session.marksOf(session.takes[take].letter, bar);
        const bool none = all.strokes == 0;
        const QStringList texts{
            none ? QString() : number(all.mean.value, 1), none ? QString() : number(all.unsteady.value, 1),
            none ? QString() : number(all.uneven.value, 1),
            none ? tr("none")
                 : QString::number(all.strokes) + (all.missing > 0 ? tr(" −%1").arg(all.missing) : QString()) +
                       (all.extra > 0 ? tr(" +%1").arg(all.extra) : QString()),
            given > 0 ? QString::number(given) : QString()};
        for (int column = 0; column < columns; ++column) {
            auto* cell = new QTableWidgetItem(texts[column]);
            cell->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            measures_->setItem(static_cast<int>(take), column, cell);
        }
    }
    measures_->setVerticalHeaderLabels(letters);
    const int height = measures_->horizontalHeader()->sizeHint().height() +
                       std::min(8, measures_->rowCount()) * measures_->verticalHeader()->defaultSectionSize() + 4;
    measures_->setFixedHeight(height);
}

void TakesPanel::addTries() {
    triesBox_ = new QWidget;
    auto* rows = new QVBoxLayout(triesBox_);
    rows->setContentsMargins(0, 0, 0, 0);
    auto* heading = new QLabel(tr("Tries"));
    heading->setFont(textFont(1.0, true));
    rows->addWidget(heading);
    column()->addWidget(triesBox_);
    tries_ = new DropList;
    tries_->setObjectName(QStringLiteral("Tries"));
    tries_->setAccessibleName(tr("Tries: Enter lays one, Delete drops it"));
    tries_->setToolTip(tr("A click lays it; Delete drops it"));
    tries_->setFont(textFont(0.9));
    rows->addWidget(tries_);
    const auto lay = [this](QListWidgetItem* item) {
        const auto index = static_cast<std::size_t>(tries_->row(item));
        const auto range = document_.session().tries[index].range;
        document_.perform(LayTry{index});
        strip_.choose(std::nullopt, range);
    };
    connect(tries_, &QListWidget::itemClicked, this, lay);
    connect(tries_, &QListWidget::itemActivated, this, lay);
    connect(tries_, &DropList::dropWanted, this,
            [this](int row) { document_.perform(DropTry{static_cast<std::size_t>(row)}); });
}

void TakesPanel::showTries() {
    const Session& session = document_.session();
    const int kept = tries_->currentRow();
    const QSignalBlocker quiet(tries_);
    tries_->clear();
    for (const Try& one : session.tries) {
        QStringList letters;
        for (const Passage& passage : one.passages)
            letters << (passage.take ? QString(QLatin1Char(session.takes[*passage.take].letter)) +
                                           (passage.graft ? tr(" (graft)") : QString())
                                     : tr("silence"));
        const bool sounds = session.comp.inside(one.range) == one.passages;
        tries_->addItem(tr("%1: %2%3")
                            .arg(rangeWords(session, one.range), letters.join(QStringLiteral(", ")),
                                 sounds ? tr(" — sounds") : QString()));
    }
    tries_->setCurrentRow(std::min(kept, tries_->count() - 1));
    triesBox_->setVisible(tries_->count() > 0);
    tries_->setFixedHeight(std::min(4, tries_->count()) * (tries_->sizeHintForRow(0) + 1) + 6);
}

void TakesPanel::addBorder() {
    borderBox_ = new QWidget;
    auto* rows = new QVBoxLayout(borderBox_);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(4);
    borderPlace_ = new QLabel;
    borderPlace_->setFont(textFont(1.0, true));
    rows->addWidget(borderPlace_);
    auto* fade = new QDoubleSpinBox;
    fade->setObjectName(QStringLiteral("Border fade"));
    fade->setAccessibleName(tr("Fade of the border"));
    fade->setRange(0, 500);
    fade->setDecimals(1);
    fade->setSuffix(tr(" ms"));
    fade->setSpecialValueText(tr("as all seams"));
    fade->setKeyboardTracking(false);
    fade->setButtonSymbols(QAbstractSpinBox::NoButtons);
    auto* row = new QHBoxLayout;
    row->addWidget(new QLabel(tr("Fade")));
    row->addWidget(fade, 1);
    rows->addLayout(row);
    advice_ = new QLabel;
    advice_->setWordWrap(true);
    advice_->setFont(textFont(0.92));
    advice_->setMinimumHeight(QFontMetrics(textFont(0.92)).height() * 3);
    advice_->setAlignment(Qt::AlignTop);
    advice_->setObjectName(QStringLiteral("Border advice"));
    rows->addWidget(advice_);
    auto* buttons = new QHBoxLayout;
    useFade_ = new QPushButton;
    useFade_->setObjectName(QStringLiteral("Use longer fade"));
    useStroke_ = new QPushButton;
    useStroke_->setObjectName(QStringLiteral("Use cymbal stroke"));
    buttons->addWidget(useFade_);
    buttons->addWidget(useStroke_);
    rows->addLayout(buttons);
    column()->addWidget(borderBox_);
    const auto place = [this] { return document_.session().comp.passages[*strip_.state().border].begin; };
    connect(fade, &QDoubleSpinBox::valueChanged, this, [this, place](double ms) {
        if (!refreshing() && strip_.state().border)
            document_.perform(SetBorderFade{place(), ms < 1 ? std::nullopt : std::optional(Milliseconds{ms})});
    });
    connect(useFade_, &QPushButton::clicked, this, [this, place] {
        document_.perform(SetBorderFade{place(), advised_->fade});
    });
    connect(useStroke_, &QPushButton::clicked, this, [this] {
        document_.perform(MoveBorder{*strip_.state().border, *advised_->before});
    });
    onChange([this, fade] {
        const auto border = strip_.state().border;
        if (border && *border < document_.session().comp.passages.size())
            fade->setValue(document_.session()
                               .comp.fadeAt(document_.session().comp.passages[*border].begin)
                               .value_or(Milliseconds{0})
                               .value);
    });
}

void TakesPanel::showBorder() {
    const Session& session = document_.session();
    const auto border = strip_.state().border;
    const bool shown = border && *border < session.comp.passages.size();
    borderBox_->setVisible(shown);
    if (!shown)
        return;
    const SongFrame at = session.comp.passages[*border].begin;
    borderPlace_->setText(tr("Border at %1").arg(placeWords(session, at)));
    if (isVisible() && advisedFor_ != std::pair(at, document_.outcome().plan)) {
        advisedFor_ = {at, document_.outcome().plan};
        const auto advice = adviseOnBorder(session, document_.outcome(), *border);
        advised_ = advice ? std::optional(*advice) : std::nullopt;
    }
    const bool rings = advised_ && advised_->ringsAcross;
    advice_->setText(rings ? tr("Cymbals ring across it (%1 dB under their loudest stroke): a longer fade hides "
                                "the change better, "
                                "or a border just before a cymbal stroke.")
                                 .arg(number(-advised_->ring.value, 0))
                           : tr("Nothing much rings across it."));
    useFade_->setVisible(rings);
    useStroke_->setVisible(rings && advised_->before);
    if (rings)
        useFade_->setText(tr("Fade of %1 ms").arg(number(advised_->fade.value, 0)));
    if (rings && advised_->before)
        useStroke_->setText(tr("To %1").arg(placeWords(session, *advised_->before)));
}

QString TakesPanel::state() const {
    const Session& session = document_.session();
    if (session.empty())
        return tr("none yet");
    if (session.takes.size() == 1 && session.comp.passages.size() == 1)
        return tr("one take");
    const auto borders = session.comp.passages.size() - 1;
    return borders == 0
               ? tr("%1 takes, %2 sounds").arg(session.takes.size()).arg(QLatin1Char(session.take().letter))
               : tr("%1 takes, %2 borders").arg(session.takes.size()).arg(borders);
}

} // namespace lampo
