#include "takes/range_page.h"

#include "look/ink.h"
#include "look/names.h"
#include "takes/takes_words.h"

#include <QGridLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QTableWidget>

namespace lampo {
namespace {

enum Column { late, unsteady, uneven, strokes, marks, columns };

} // namespace

RangePage::RangePage(Document& document, TakeStrip& strip, QWidget* parent)
    : Panel(document, {}, parent), strip_(strip) {
    chosen_ = new QLabel;
    chosen_->setFont(textFont(1.0, true));
    chosen_->setObjectName(QStringLiteral("Chosen range"));
    column()->addWidget(chosen_);
    addTable();
    addButtons();
    onChange([this] { fill(); });
    connect(&strip_, &TakeStrip::chosen, this, [this] { refresh(); });
    refresh();
}

void RangePage::addTable() {
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
}

void RangePage::addButtons() {
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
    add(names::nextTake, tr("The next take here"), tr("T; Shift+T goes back. While it loops, the sound goes on"));
    add(names::keepTry, tr("Keep as a try"), tr("Y; Shift+Y lays the next one kept here"));
    add(names::layRated, tr("Best rated bars together"), tr("Bars without marks stay as they are"));
    add(names::suggestComp, tr("Suggest a comp"),
        tr("By steadiness, levels and missing strokes: a starting point"));
    column()->addLayout(buttons);
}

void RangePage::fill() {
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
    for (TakeIndex take; take < session.takes.size(); ++take) {
        letters << QString(QLatin1Char(session.takes[take].letter.value));
        const BarMeasure all = strip_.state().measures.over(take, first, last);
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

} // namespace lampo
