#include "shell/transport_bar.h"

#include "document/document.h"
#include "map/musical_map.h"

#include <QHBoxLayout>
#include <QToolButton>

#include <cmath>

namespace lampo {

TransportBar::TransportBar(Document& document, const QList<QAction*>& actions, QWidget* parent)
    : QWidget(parent), document_(document), place_(new QLabel), time_(new QLabel), interruption_(new QLabel),
      pointer_(new QLabel), progress_(new QProgressBar), stop_(new QPushButton(tr("Stop"))) {
    setAccessibleName(tr("Listening bar"));
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(12, 4, 12, 4);
    row->setSpacing(4);
    for (QAction* action : actions) {
        if (action->isSeparator()) {
            row->addSpacing(14);
            continue;
        }
        auto* button = new QToolButton;
        button->setDefaultAction(action);
        button->setToolButtonStyle(Qt::ToolButtonTextOnly);
        button->setFont(textFont());
        button->setAccessibleName(action->text().remove(QLatin1Char('&')));
        button->setObjectName(action->objectName());
        button->setFocusPolicy(Qt::TabFocus);
        row->addWidget(button);
    }
    row->addSpacing(14);
    place_->setFont(textFont(1.25, true));
    place_->setMinimumWidth(QFontMetrics(place_->font()).horizontalAdvance(QStringLiteral("bar 000, 00.00")));
    time_->setMinimumWidth(QFontMetrics(time_->font()).horizontalAdvance(QStringLiteral("00:00.000  ")));
    place_->setAccessibleName(tr("Position in bars"));
    time_->setAccessibleName(tr("Position in time"));
    row->addWidget(place_);
    row->addWidget(time_);
    interruption_->setAccessibleName(tr("Dropouts"));
    interruption_->setObjectName(QStringLiteral("interruption"));
    interruption_->setToolTip(tr("The disk or the machine was not fast enough, and silence was played instead"));
    interruption_->setFont(textFont());
    interruption_->hide();
    row->addWidget(interruption_);
    pointer_->setForegroundRole(QPalette::PlaceholderText);
    pointer_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); // long words make no window wider
    row->addWidget(pointer_, 1);
    progress_->setRange(0, 1000);
    progress_->setMaximumWidth(220);
    progress_->hide();
    stop_->hide();
    row->addWidget(progress_);
    row->addWidget(stop_);
    connect(stop_, &QPushButton::clicked, this, &TransportBar::stopWork);
    setPosition(ResultFrame{0});
}

void TransportBar::setPosition(ResultFrame at) {
    const Session& session = document_.session();
    const BarBeat place = MusicalMap(session.map, session.rate).barBeat(asSong(at));
    place_->setText(tr("bar %1, %2").arg(place.bar).arg(std::floor(place.beat * 100) / 100, 0, 'f', 2));
    const double seconds = toSeconds(FrameCount{at.frame}, session.rate).value;
    const int minutes = static_cast<int>(seconds / 60);
    time_->setText(QStringLiteral("%1:%2").arg(minutes).arg(seconds - 60 * minutes, 6, 'f', 3, QLatin1Char('0')));
}

void TransportBar::setInterruption(const QString& words) {
    interruption_->setText(words);
    interruption_->setVisible(!words.isEmpty());
}

void TransportBar::setProgress(double fraction, const QString& what) {
    const bool busy = fraction < 1.0;
    progress_->setVisible(busy);
    stop_->setVisible(busy);
    progress_->setValue(static_cast<int>(fraction * 1000));
    progress_->setFormat(what + QStringLiteral(" %p %"));
}

} // namespace lampo
