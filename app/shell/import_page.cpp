#include "shell/import_page.h"

#include "look/ink.h"
#include "look/number.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <numeric>

namespace lampo {

using Use = ImportItem::Use;

ImportPage::ImportPage(ImportPlan plan, QWidget* parent)
    : QDialog(parent), plan_(std::move(plan)), table_(new QTableWidget), sum_(new QLabel) {
    setWindowTitle(tr("Bring in files"));
    resize(1080, 620);
    auto* column = new QVBoxLayout(this);
    auto* heading = new QLabel(tr("What becomes of each file. Nothing is copied, and no file is written to."));
    heading->setFont(textFont(1.1, true));
    column->addWidget(heading);
    table_->setObjectName(QStringLiteral("Import table"));
    table_->setAccessibleName(tr("Files to bring in"));
    table_->setColumnCount(columns);
    table_->setHorizontalHeaderLabels(
        {tr("File"), tr("Take"), tr("Mic"), tr("Drum"), tr("Guide"), tr("Rank"), tr("What is done")});
    table_->verticalHeader()->hide();
    table_->setShowGrid(false);
    table_->setSelectionMode(QAbstractItemView::NoSelection);
    table_->horizontalHeader()->setStretchLastSection(true);
    column->addWidget(table_, 1);
    sum_->setWordWrap(true);
    column->addWidget(sum_);
    auto* buttons = new QDialogButtonBox(QDialogButtonBox::Cancel);
    accept_ = buttons->addButton(tr("Bring in"), QDialogButtonBox::AcceptRole);
    accept_->setObjectName(QStringLiteral("Bring in"));
    accept_->setDefault(true);
    buttons->button(QDialogButtonBox::Cancel)->setIcon({});
    connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
    column->addWidget(buttons);
    rebuild();
}

Mic* ImportPage::micOf(const ImportItem& item) {
    const auto place = plan_.rankOf(item);
    return place ? &plan_.mics[*place] : nullptr;
}

void ImportPage::rebuild() {
    order_.resize(plan_.items.size());
    std::iota(order_.begin(), order_.end(), std::size_t{0});
    std::stable_sort(order_.begin(), order_.end(), [&](std::size_t a, std::size_t b) {
        const auto key = [&](std::size_t i) {
            const ImportItem& item = plan_.items[i];
            return std::tuple(item.use, item.use == Use::mic ? item.take : TakeLetter{}, plan_.rankOf(item));
        };
        return key(a) < key(b);
    });
    table_->setRowCount(0);
    table_->setRowCount(static_cast<int>(order_.size()));
    for (int row = 0; row < table_->rowCount(); ++row)
        addRow(row, order_[static_cast<std::size_t>(row)]);
    table_->setCurrentCell(-1, -1);
    table_->resizeColumnsToContents();
    table_->setColumnWidth(mic, std::max(130, table_->columnWidth(mic)));
    QStringList letters;
    for (const TakeLetter letter : plan_.takes())
        letters << QString(QLatin1Char(letter.value));
    const auto companions = std::count_if(plan_.items.begin(), plan_.items.end(),
                                          [](const auto& item) { return item.use == Use::companion; });
    sum_->setText(tr("%1 at %2 Hz; takes: %3; beside the kit, played and drawn but never cut: %4.")
                      .arg(counted(std::ssize(plan_.mics), tr("mic")))
                      .arg(plan_.rate.hz)
                      .arg(letters.isEmpty() ? tr("none") : letters.join(QStringLiteral(", ")))
                      .arg(companions));
    accept_->setEnabled(!letters.isEmpty() || companions > 0);
}

void ImportPage::addRow(int row, std::size_t index) {
    ImportItem& item = plan_.items[index];
    const QString name = QString::fromStdString(item.source.file.filename().string());
    const auto label = [&](int column, const QString& text) {
        auto* cell = new QTableWidgetItem(text);
        cell->setFlags(Qt::ItemIsEnabled);
        cell->setToolTip(text);
        table_->setItem(row, column, cell);
    };
    label(file, name);
    const std::string done = plan_.notice(item);
    label(notice, done.empty() ? tr("as it is") : QString::fromStdString(done));
    addUse(row, index, name);
    if (item.use == Use::leaveOut)
        return;
    addStem(row, index, name);
    if (micOf(item))
        addDrum(row, index, name);
}

void ImportPage::addUse(int row, std::size_t index, const QString& name) {
    const ImportItem& item = plan_.items[index];
    auto* what = new QComboBox;
    what->setObjectName(name + QStringLiteral(" take"));
    what->setAccessibleName(tr("Take of %1").arg(name));
    for (char letter = TakeLetter::first; letter <= TakeLetter::last; ++letter)
        what->addItem(tr("take %1").arg(QLatin1Char(letter)));
    what->addItem(tr("companion"));
    what->addItem(tr("leave out"));
    what->setCurrentIndex(item.use == Use::mic         ? item.take.value - TakeLetter::first
                          : item.use == Use::companion ? 26
                                                       : 27);
    const bool readable = item.info.channels > 0;
    what->setEnabled(readable);
    table_->setCellWidget(row, use, what);
    connect(what, &QComboBox::activated, this, [this, index](int choice) {
        ImportItem& changing = plan_.items[index];
        changing.use = choice < 26 ? Use::mic : choice == 26 ? Use::companion : Use::leaveOut;
        if (choice < 26)
            changing.take = TakeLetter{static_cast<char>(TakeLetter::first + choice)};
        changed();
    });
}

void ImportPage::addStem(int row, std::size_t index, const QString& name) {
    auto* stem = new QComboBox;
    stem->setEditable(true);
    stem->setObjectName(name + QStringLiteral(" mic"));
    stem->setAccessibleName(tr("Mic of %1").arg(name));
    for (const Mic& each : plan_.mics)
        stem->addItem(QString::fromStdString(each.stem));
    stem->setCurrentText(QString::fromStdString(plan_.items[index].mic));
    table_->setCellWidget(row, mic, stem);
    const auto rename = [this, index, stem] {
        const std::string wanted = stem->currentText().trimmed().toStdString();
        if (wanted.empty() || wanted == plan_.items[index].mic)
            return;
        plan_.items[index].mic = wanted;
        changed();
    };
    connect(stem->lineEdit(), &QLineEdit::editingFinished, this, rename);
    connect(stem, &QComboBox::activated, this, rename);
}

/// Drum, guide and rank.
void ImportPage::addDrum(int row, std::size_t index, const QString& name) {
    ImportItem& item = plan_.items[index];
    const Mic& at = *micOf(item);
    auto* role = new QComboBox;
    role->setObjectName(name + QStringLiteral(" drum"));
    for (const Role each : allRoles)
        role->addItem(QString::fromLatin1(lampo::name(each).data()));
    role->setCurrentIndex(static_cast<int>(at.role));
    table_->setCellWidget(row, drum, role);
    connect(role, &QComboBox::activated, this, [this, index](int choice) {
        micOf(plan_.items[index])->role = allRoles[choice];
        changed();
    });
    auto* guides = new QCheckBox;
    guides->setObjectName(name + QStringLiteral(" guide"));
    guides->setChecked(at.guide);
    table_->setCellWidget(row, guide, guides);
    connect(guides, &QCheckBox::clicked, this, [this, index](bool on) {
        micOf(plan_.items[index])->guide = on;
        changed();
    });
    auto* place = new QSpinBox;
    place->setButtonSymbols(QAbstractSpinBox::NoButtons);
    place->setObjectName(name + QStringLiteral(" rank"));
    place->setRange(1, static_cast<int>(plan_.mics.size()));
    place->setKeyboardTracking(false);
    place->setValue(static_cast<int>(plan_.rankOf(item)->value) + 1);
    table_->setCellWidget(row, rank, place);
    connect(place, &QSpinBox::valueChanged, this, [this, index](int wanted) { moveRank(index, wanted - 1); });
}

void ImportPage::moveRank(std::size_t index, int wanted) {
    const auto now = plan_.rankOf(plan_.items[index]);
    if (!now)
        return;
    const auto from = static_cast<std::ptrdiff_t>(now->value);
    const auto begin = plan_.mics.begin();
    if (wanted < from)
        std::rotate(begin + wanted, begin + from, begin + from + 1);
    else
        std::rotate(begin + from, begin + from + 1, begin + wanted + 1);
    changed();
}

/// The widget that was used is part of what is rebuilt, so that waits until its signal is done.
void ImportPage::changed() {
    plan_.settle();
    QTimer::singleShot(0, this, &ImportPage::rebuild);
}

} // namespace lampo
