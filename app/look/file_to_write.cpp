#include "look/file_to_write.h"

#include <QFileDialog>

namespace lampo {

QString fileToWrite(QWidget* parent, const QString& title, const QString& usual, const QString& filter,
                    const QString& ending) {
    QFileDialog dialog(parent, title, usual, filter);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setDefaultSuffix(ending);
    if (!usual.isEmpty())
        dialog.selectFile(usual);
    return dialog.exec() == QDialog::Accepted ? dialog.selectedFiles().value(0) : QString();
}

} // namespace lampo
