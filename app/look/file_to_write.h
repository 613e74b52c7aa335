#pragma once

#include <QString>

class QWidget;

namespace lampo {

/// Asks for a file to write; empty when nothing was chosen. The name has this ending (without a dot) whether it was
/// typed or not, and a file that bears it already is asked about.
QString fileToWrite(QWidget* parent, const QString& title, const QString& usual, const QString& filter,
                    const QString& ending);

} // namespace lampo
