#include "stops/seams/listening.h"

#include "look/names.h"
#include "stops/panel.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QSettings>
#include <QSignalBlocker>

namespace lampo {

SeamListening::SeamListening(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), runUp_(makeField(numberOf(tr("Run-up"), limits::runUp))),
      heard_(new QComboBox), afterChange_(new QCheckBox(tr("play it after each change"))) {
    const QSettings settings;
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    runUp_->setToolTip(tr("How long before the seam play begins"));
    runUp_->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    runUp_->setValue(settings.value(QLatin1String(names::seamRunUp), limits::runUp.defaultValue).toDouble());
    heard_->setObjectName(QStringLiteral("Seams heard in"));
    heard_->setAccessibleName(tr("Seams heard in"));
    heard_->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    afterChange_->setObjectName(QStringLiteral("Play after each change"));
    afterChange_->setChecked(settings.value(QLatin1String(names::seamAfterChange), false).toBool());
    row->addWidget(new QLabel(tr("Run-up")));
    row->addWidget(runUp_);
    row->addWidget(heard_, 1);
    column->addLayout(row);
    column->addWidget(afterChange_);
    connect(runUp_, &QDoubleSpinBox::valueChanged, this,
            [](double value) { QSettings().setValue(QLatin1String(names::seamRunUp), value); });
    connect(afterChange_, &QCheckBox::toggled, this,
            [](bool on) { QSettings().setValue(QLatin1String(names::seamAfterChange), on); });
    connect(heard_, &QComboBox::currentIndexChanged, this, [this] { emit alone(chosen()); });
    connect(&document_, &Document::changed, this, &SeamListening::offerMics);
    offerMics();
}

/// What was heard stays heard; in another kit, all mics.
void SeamListening::offerMics() {
    QStringList names{tr("all mics")};
    for (const Mic& mic : document_.session().mics)
        names << tr("%1 alone").arg(QString::fromStdString(mic.shownName()));
    QStringList offered;
    for (int row = 0; row < heard_->count(); ++row)
        offered << heard_->itemText(row);
    if (names == offered)
        return;
    const QString kept = heard_->currentText();
    {
        const QSignalBlocker quiet(heard_);
        heard_->clear();
        heard_->addItems(names);
        heard_->setCurrentIndex(std::max<int>(0, static_cast<int>(names.indexOf(kept))));
    }
    emit alone(chosen());
}

std::optional<MicIndex> SeamListening::chosen() const {
    const int row = heard_->currentIndex();
    return row > 0 && isVisible() ? std::optional(MicIndex{static_cast<std::size_t>(row - 1)}) : std::nullopt;
}

void SeamListening::showEvent(QShowEvent*) {
    emit alone(chosen());
}

void SeamListening::hideEvent(QHideEvent*) {
    emit alone(std::nullopt);
}

Milliseconds SeamListening::runUp() const {
    return {runUp_->value()};
}

bool SeamListening::afterChange() const {
    return afterChange_->isChecked();
}

} // namespace lampo
