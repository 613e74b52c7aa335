#include "stops/map/map_table.h"

#include "look/ink.h"

#include <QHeaderView>
#include <QLabel>
#include <QVBoxLayout>

namespace lampo {
namespace {

void prepare(QTableWidget& table) {
    table.setFont(textFont(0.9));
    table.setShowGrid(false);
    table.verticalHeader()->hide();
    table.verticalHeader()->setDefaultSectionSize(QFontMetrics(textFont(0.9)).height() + 8);
    table.horizontalHeader()->setFont(textFont(0.8));
    table.horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table.setSelectionBehavior(QAbstractItemView::SelectRows);
    table.setSelectionMode(QAbstractItemView::SingleSelection);
    table.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
}

} // namespace

QTableWidget* addMapTable(QVBoxLayout* column, const QString& title, const QString& name,
                          const QStringList& heads) {
    auto* heading = new QLabel(title);
    heading->setFont(textFont(1.0, true));
    column->addWidget(heading);
    auto* table = new QTableWidget(0, static_cast<int>(heads.size()));
    table->setObjectName(name);
    table->setAccessibleName(title);
    table->setHorizontalHeaderLabels(heads);
    prepare(*table);
    table->setMinimumHeight(QFontMetrics(textFont()).height() * 5);
    table->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Ignored);
    column->addWidget(table, 1);
    return table;
}

} // namespace lampo
