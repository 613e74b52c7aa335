#include "shell/click_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>

namespace lampo {

ClickPage::ClickPage(QWidget* parent)
    : QDialog(parent), accent_(new QCheckBox(tr("The first of a bar is higher"))), subdivision_(new QComboBox) {
    setWindowTitle(tr("The click as a file"));
    accent_->setChecked(true);
    accent_->setObjectName(QStringLiteral("Accent"));
    subdivision_->setObjectName(QStringLiteral("Subdivision"));
    subdivision_->addItem(tr("nothing"));
    for (const char* value : {"1/8", "1/8t", "1/16"})
        subdivision_->addItem(QLatin1String(value));
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    buttons->addButton(tr("Write it…"), QDialogButtonBox::AcceptRole);
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    auto* form = new QFormLayout(this);
    form->addRow(accent_);
    form->addRow(tr("Between the beats, softer"), subdivision_);
    form->addRow(buttons);
}

ClickSettings ClickPage::settings() const {
    return {accent_->isChecked(), noteValueNamed(subdivision_->currentText().toStdString())};
}

} // namespace lampo
