#include "stops/map/sections_page.h"

#include "look/number.h"
#include "stops/map/map_table.h"
#include "stops/offered_grids.h"

#include <QComboBox>
#include <QPushButton>
#include <QSignalBlocker>

namespace lampo {
namespace {

enum SectionColumn { nameColumn, firstColumn, barsColumn, gridColumn };

QString beginInWords(const Section& section) {
    return section.beats ? QStringLiteral("%1.%2").arg(section.firstBar).arg(section.beats->first)
                         : QString::number(section.firstBar);
}

QString lengthInWords(const Section& section) {
    return section.beats ? counted(section.beats->count, QObject::tr("beat")) : QString::number(section.bars);
}

} // namespace

SectionsPage::SectionsPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    sections_ = addMapTable(column(), tr("Sections"), QStringLiteral("Sections"),
                            {tr("Name"), tr("From bar"), tr("Bars"), tr("Grid")});
    connect(sections_, &QTableWidget::cellChanged, this, &SectionsPage::changed, Qt::QueuedConnection);
    auto* row = new QHBoxLayout;
    auto* add = new QPushButton(tr("Make one of the loop"));
    add->setObjectName(QStringLiteral("Add section"));
    add->setToolTip(tr("Of the whole bars that the loop on the ruler touches"));
    auto* drop = new QPushButton(tr("Delete"));
    drop->setObjectName(QStringLiteral("Delete section"));
    row->addWidget(add);
    row->addWidget(drop);
    column()->addLayout(row);
    connect(add, &QPushButton::clicked, this, &SectionsPage::sectionWanted);
    connect(drop, &QPushButton::clicked, this, &SectionsPage::drop);
    onChange([this] { show(); });
    refresh();
}

void SectionsPage::show() {
    const auto& sections = document_.session().sections;
    if (sections == shown_ && sections_->rowCount() == static_cast<int>(sections.size()))
        return;
    shown_ = sections;
    const QSignalBlocker quiet(sections_);
    const int kept = sections_->currentRow();
    sections_->setRowCount(static_cast<int>(sections.size()));
    for (std::size_t i = 0; i < sections.size(); ++i) {
        const int row = static_cast<int>(i);
        sections_->setItem(row, nameColumn, new QTableWidgetItem(QString::fromStdString(sections[i].name)));
        sections_->setItem(row, firstColumn, new QTableWidgetItem(beginInWords(sections[i])));
        sections_->setItem(row, barsColumn, new QTableWidgetItem(lengthInWords(sections[i])));
        auto* box = new QComboBox;
        box->addItem(tr("as the song"));
        box->addItems(offeredGridNames());
        box->setCurrentIndex(sections[i].grid ? 1 + offeredGridIndex(*sections[i].grid) : 0);
        box->setAccessibleName(tr("Grid of %1").arg(QString::fromStdString(sections[i].name)));
        sections_->setCellWidget(row, gridColumn, box);
        connect(box, &QComboBox::activated, this, [this, i](int index) {
            document_.perform(SetSectionGrid{
                i, index == 0 ? std::nullopt : std::optional(offeredGrids()[static_cast<std::size_t>(index - 1)])});
        });
    }
    sections_->setCurrentCell(std::min(kept, sections_->rowCount() - 1), 0);
}

void SectionsPage::changed(int row, int) {
    auto sections = document_.session().sections;
    if (row >= static_cast<int>(sections.size()))
        return;
    Section& section = sections[static_cast<std::size_t>(row)];
    section.name = sections_->item(row, nameColumn)->text().trimmed().toStdString();
    // "12" and "4", or for beats of one bar "12.3" and "2 beats".
    const QStringList begin = sections_->item(row, firstColumn)->text().split(QLatin1Char('.'));
    const int length = sections_->item(row, barsColumn)->text().section(QLatin1Char(' '), 0, 0).toInt();
    section.firstBar = begin.front().toInt();
    section.bars = begin.size() > 1 ? 1 : length;
    section.beats = begin.size() > 1 ? std::optional(BeatRange{begin[1].toInt(), length}) : std::nullopt;
    document_.perform(SetSections{sections, "Section " + section.name});
    shown_.clear(); // what was refused is put back
    show();
}

void SectionsPage::drop() {
    auto sections = document_.session().sections;
    const int row = sections_->currentRow();
    if (row < 0 || row >= static_cast<int>(sections.size()))
        return emit notified(tr("Choose a section first"));
    const std::string name = sections[static_cast<std::size_t>(row)].name;
    sections.erase(sections.begin() + row);
    document_.perform(SetSections{sections, "Delete section " + name});
}

} // namespace lampo
