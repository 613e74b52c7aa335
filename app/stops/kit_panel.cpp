#include "stops/kit_panel.h"

#include "look/ink.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QToolButton>

#include <algorithm>

namespace lampo {

KitPanel::KitPanel(Document& document, QWidget* parent) : Panel(document, tr("Kit"), parent) {
    addNote(tr("Guides are listened to for hits; the others only follow. Of guides that hear a hit together, the "
               "upper one gives its place."));
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    list_ = new QWidget;
    list_->setLayout(new QGridLayout);
    area->setWidget(list_);
    column()->addWidget(area, 1);
    onChange([this] {
        rebuildIfNeeded();
        for (const auto& row : rows_)
            row();
    });
    refresh();
}

/// Rows are made anew only when the mics or their order change.
void KitPanel::rebuildIfNeeded() {
    std::vector<std::string> stems;
    for (const Mic& mic : document_.session().mics)
        stems.push_back(mic.stem);
    if (stems == shown_)
        return;
    shown_ = stems;
    rows_.clear();
    auto* grid = static_cast<QGridLayout*>(list_->layout());
    while (QLayoutItem* item = grid->takeAt(0)) {
        if (QWidget* widget = item->widget())
            widget->deleteLater();
        delete item;
    }
    grid->setContentsMargins(0, 0, 4, 0);
    grid->setVerticalSpacing(3);
    for (std::size_t mic = 0; mic < stems.size(); ++mic) {
        const QString stem = QString::fromStdString(stems[mic]);
        const int row = static_cast<int>(mic);
        auto* guide = new QCheckBox(stem);
        guide->setToolTip(tr("Listen to this mic for hits"));
        guide->setObjectName(stem + QStringLiteral(" guide"));
        auto* role = new QComboBox;
        role->setAccessibleName(tr("Drum of %1").arg(stem));
        for (const Role each : allRoles)
            role->addItem(QString::fromLatin1(name(each).data()));
        auto* up = new QToolButton;
        up->setText(QStringLiteral("↑"));
        up->setAutoRaise(true);
        up->setEnabled(mic > 0);
        up->setAccessibleName(tr("Move %1 up").arg(stem));
        grid->addWidget(guide, row, 0);
        grid->addWidget(role, row, 1);
        grid->addWidget(up, row, 2);
        connect(guide, &QCheckBox::toggled, this, [this, mic](bool on) { document_.perform(SetGuide{mic, on}); });
        connect(role, &QComboBox::activated, this, [this, mic](int index) {
            document_.perform(SetRole{mic, allRoles[index]});
        });
        connect(up, &QToolButton::clicked, this, [this, mic] { document_.perform(MoveMic{mic, mic - 1}); });
        rows_.push_back([this, mic, guide, role] {
            const QSignalBlocker quiet(guide);
            guide->setChecked(document_.session().mics[mic].guide);
            role->setCurrentIndex(static_cast<int>(document_.session().mics[mic].role));
        });
    }
    grid->setColumnStretch(0, 1);
    grid->setRowStretch(static_cast<int>(stems.size()), 1);
}

QString KitPanel::state() const {
    const auto& mics = document_.session().mics;
    if (mics.empty())
        return tr("no mics yet");
    const auto guides = std::count_if(mics.begin(), mics.end(), [](const Mic& mic) { return mic.guide; });
    return tr("%1 mics, %2 guides").arg(mics.size()).arg(guides);
}

} // namespace lampo
