#pragma once

#include <QTableWidget>

class QVBoxLayout;

namespace lampo {

/// A table with its title below a column's other rows; its height is what is left there, in the share `stretch`.
QTableWidget* addMapTable(QVBoxLayout* column, const QString& title, const QString& name, const QStringList& heads);

} // namespace lampo
