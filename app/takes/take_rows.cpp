#include "takes/take_rows.h"

#include "look/ink.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QToolButton>

namespace lampo {
namespace {

QPixmap swatch(const QColor& colour) {
    QPixmap picture(14, 14);
    picture.fill(colour);
    return picture;
}

} // namespace

TakeRows::TakeRows(Document& document, TakeStrip& strip, QWidget* parent)
    : Panel(document, {}, parent), strip_(strip) {
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
    onChange([this] { fill(); });
    refresh();
}

void TakeRows::fill() {
    const Session& session = document_.session();
    if (rowsFor_ != session.takes.size()) {
        while (QLayoutItem* item = grid_->takeAt(0)) {
            delete item->widget();
            delete item;
        }
        rows_.clear();
        rowsFor_ = session.takes.size();
        for (TakeIndex take; take < rowsFor_; ++take)
            addRow(take);
    }
    for (const auto& row : rows_)
        row();
}

void TakeRows::addRow(TakeIndex take) {
    const int row = static_cast<int>(take);
    const QString letter(QLatin1Char(document_.session().takes[take].letter.value));
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
    start->setRange(limits::takeStart.low, limits::takeStart.high);
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
        const QString first(QLatin1Char(document_.session().takes[0].letter.value));
        auto* lineUp = new QPushButton(tr("Line up with %1").arg(first));
        lineUp->setObjectName(QStringLiteral("Line up take %1").arg(letter));
        lineUp->setToolTip(tr("Makes it begin where its strokes fall together with those of take %1").arg(first));
        grid_->addWidget(lineUp, row, 4);
        connect(lineUp, &QPushButton::clicked, this, [this, take] { emit lineUpWanted(take, {}); });
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
    rows_.emplace_back([this, take, tint, note, start] {
        const Session& session = document_.session();
        tint->setIcon(swatch(strip_.state().sheet->ink.ofTake(session, take)));
        note->setText(QString::fromStdString(session.takes[take].note));
        start->setValue(toSeconds(session.takes[take].start, session.rate).value);
    });
}

} // namespace lampo
