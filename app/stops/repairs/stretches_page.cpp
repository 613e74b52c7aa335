#include "stops/repairs/stretches_page.h"

#include "look/number.h"
#include "map/musical_map.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSpinBox>

namespace lampo {
namespace {

QString placeWords(const Session& session, ResultFrame place) {
    const BarBeat at = MusicalMap(session.map, session.rate).barBeat(asSong(place));
    return QStringLiteral("%1 : %2").arg(at.bar).arg(at.beat, 0, 'f', 2);
}

} // namespace

StretchesPage::StretchesPage(Document& document, SheetWidget& sheet, StretchRepairs& repairs, MicChoice& mics,
                             QWidget* parent)
    : Panel(document, {}, parent), repairs_(repairs) {
    addStretch(sheet, mics);
    addBorrow();
    addToms();
    column()->addStretch(1);
    refresh();
}

QPushButton* StretchesPage::addButton(const QString& text, const char* name, const QString& tip) {
    auto* button = new QPushButton(text);
    button->setObjectName(QLatin1String(name));
    button->setToolTip(tip);
    return button;
}

void StretchesPage::addStretch(SheetWidget& sheet, MicChoice& mics) {
    auto* note = addNote();
    note->setObjectName(QStringLiteral("Stretch note"));
    const auto tell = [this, note, &sheet] {
        const auto loop = sheet.state().loop;
        note->setText(loop.empty() ? tr("Draw a stretch in the ruler, then say what some mics do there.")
                                   : tr("From %1 to %2.")
                                         .arg(placeWords(document_.session(), loop.begin),
                                              placeWords(document_.session(), loop.end)));
    };
    onChangeWhileVisible(tell);
    connect(&sheet, &SheetWidget::loopChosen, this, tell);
    column()->addWidget(mics.button(QStringLiteral("Stretch mics")));
    auto* silence =
        addButton(tr("Silence it there"), "Silence stretch", tr("With fades, which Patches can change"));
    connect(silence, &QPushButton::clicked, &repairs_, &StretchRepairs::silence);
    column()->addWidget(silence);
}

void StretchesPage::addBorrow() {
    auto* row = new QHBoxLayout;
    auto* borrow =
        addButton(tr("Borrow it from"), "Borrow stretch", tr("As that take lands there, for these mics alone"));
    take_ = new QComboBox;
    take_->setObjectName(QStringLiteral("Borrow take"));
    take_->setAccessibleName(tr("From which take"));
    bars_ = new QSpinBox;
    bars_->setObjectName(QStringLiteral("Borrow bars"));
    bars_->setAccessibleName(tr("How many bars later"));
    bars_->setToolTip(tr("How many bars later it was played; negative: earlier"));
    bars_->setRange(static_cast<int>(limits::borrowBars.low), static_cast<int>(limits::borrowBars.high));
    bars_->setSuffix(tr(" bars later"));
    bars_->setButtonSymbols(QAbstractSpinBox::NoButtons);
    bars_->setAlignment(Qt::AlignRight);
    onChange([this] {
        const auto& takes = document_.session().takes;
        if (static_cast<std::size_t>(take_->count()) == takes.size())
            return;
        take_->clear();
        for (const Take& take : takes)
            take_->addItem(tr("take %1").arg(QLatin1Char(take.letter.value)));
    });
    connect(borrow, &QPushButton::clicked, this, [this] {
        if (take_->currentIndex() >= 0)
            repairs_.borrow({{static_cast<std::size_t>(take_->currentIndex())}, bars_->value()});
    });
    row->addWidget(borrow);
    row->addWidget(take_, 1);
    row->addWidget(bars_, 1);
    column()->addLayout(row);
}

void StretchesPage::addToms() {
    auto* form = addForm(tr("Tom mics outside their strokes"));
    auto* row = new QHBoxLayout;
    auto* silence =
        addButton(tr("Silence them"), "Silence toms", tr("From a second behind a stroke to 20 ms before the next"));
    connect(silence, &QPushButton::clicked, &repairs_, &StretchRepairs::silenceToms);
    auto* whole = addButton(tr("All on or off"), "Switch tom silences", tr("To compare"));
    connect(whole, &QPushButton::clicked, &repairs_, &StretchRepairs::switchTomSilences);
    row->addWidget(silence);
    row->addWidget(whole);
    form->addRow(row);
    auto* taken = addNote();
    taken->setObjectName(QStringLiteral("Taken away"));
    const auto tell = [this, taken] { taken->setText(repairs_.taken()); };
    connect(&repairs_, &StretchRepairs::takenChanged, this, tell);
    onChangeWhileVisible(tell);
}

} // namespace lampo
