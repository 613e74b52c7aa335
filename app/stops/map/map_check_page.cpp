#include "stops/map/map_check_page.h"

#include "look/ink.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QtConcurrent>

namespace lampo {

MapCheckPage::MapCheckPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    auto* heading = new QLabel(tr("What the hits say"));
    heading->setFont(textFont(1.0, true));
    column()->addWidget(heading);
    fit_ = new QLabel;
    fit_->setObjectName(QStringLiteral("Map fit"));
    fit_->setWordWrap(true);
    column()->addWidget(fit_);
    rows_ = new QVBoxLayout;
    column()->addLayout(rows_);
    auto* row = new QHBoxLayout;
    column()->addLayout(row);
    auto* form = new QFormLayout;
    row->addLayout(form, 1);
    addNumber(
        form, numberOf(tr("Smooth"), limits::smoothness), [this] { return smoothness_; },
        [this](double value) -> std::optional<Edit> {
            smoothness_ = value;
            return std::nullopt;
        });
    auto* button = new QPushButton(tr("Follow the drummer"));
    button->setObjectName(QStringLiteral("Follow"));
    button->setToolTip(
        tr("For what was played without a click: the tempo of every bar as it was played, at 100 % one "
           "tempo. Bar 1 and the tempo above should be about right."));
    row->addWidget(button, 1);
    connect(button, &QPushButton::clicked, this, &MapCheckPage::follow);
    soon_.setSingleShot(true);
    soon_.setInterval(150);
    connect(&soon_, &QTimer::timeout, this, &MapCheckPage::check);
    connect(&watcher_, &QFutureWatcherBase::finished, this, [this] {
        busy_ = false;
        tell(watcher_.result());
    });
    onChange([this] {
        if (isVisible())
            soon_.start();
    });
}

void MapCheckPage::showEvent(QShowEvent* event) {
    Panel::showEvent(event);
    soon_.start();
}

void MapCheckPage::check() {
    soon_.stop();
    busy_ = true;
    asked_ = document_.session().map;
    watcher_.setFuture(QtConcurrent::run([session = document_.session(), outcome = document_.sharedOutcome()] {
        return checkMap(session, *outcome);
    }));
}

void MapCheckPage::tell(const MapReport& report) {
    fit_->setText(report.fit.strong < fewestStrongHits
                      ? tr("There are too few strong hits to tell.")
                      : tr("Eight of ten strong hits lie within %1 ms of their beats.")
                            .arg(number(report.fit.within.value, 0)));
    while (QLayoutItem* row = rows_->takeAt(0)) {
        delete row->widget();
        delete row;
    }
    for (std::size_t i = 0; i < report.advice.size(); ++i) {
        const MapAdvice& advice = report.advice[i];
        auto* row = new QWidget;
        auto* layout = new QHBoxLayout(row);
        layout->setContentsMargins(0, 0, 0, 0);
        auto* words = new QLabel(QString::fromStdString(advice.sentence));
        words->setWordWrap(true);
        auto* button = new QPushButton(tr("Do it"));
        button->setObjectName(QStringLiteral("Advice %1").arg(i));
        button->setAccessibleName(words->text() + tr(": do it"));
        layout->addWidget(words, 1);
        layout->addWidget(button);
        rows_->addWidget(row);
        connect(button, &QPushButton::clicked, this, [this, advice] {
            if (document_.session().map != asked_) // it speaks of another map: what was changed since would be lost
                return soon_.start();
            document_.perform(TimingEdit{SetMap{advice.map, advice.sentence}});
        });
    }
}

void MapCheckPage::follow() {
    const auto edit = followDrummerEdit(document_.session(), document_.outcome(), smoothness_);
    if (!edit)
        return emit notified(QString::fromStdString(edit.error().sentence));
    document_.perform(*edit);
}

} // namespace lampo
