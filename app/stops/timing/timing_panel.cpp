#include "stops/timing/timing_panel.h"

#include "look/ink.h"
#include "stops/timing/feel_page.h"
#include "stops/timing/figures.h"
#include "stops/timing/grid_page.h"
#include "stops/timing/hand_page.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>

namespace lampo {

TimingPanel::TimingPanel(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, tr("Timing"), parent), heads_(new QButtonGroup(this)), pages_(new QStackedWidget),
      hand_(new HandPage(document, sheet)), feel_(new FeelPage(document, sheet)) {
    auto* row = new QHBoxLayout;
    row->setSpacing(4);
    const std::array<std::pair<QString, QWidget*>, 3> pages{
        {{tr("Grid"), new GridPage(document)}, {tr("Feel"), feel_}, {tr("By hand"), hand_}}};
    for (const auto& [title, page] : pages) {
        auto* head = new QPushButton(title);
        head->setCheckable(true);
        head->setObjectName(title + QStringLiteral(" page"));
        heads_->addButton(head, pages_->addWidget(page));
        row->addWidget(head);
    }
    heads_->button(0)->setChecked(true);
    column()->addLayout(row);
    column()->addWidget(pages_, 1);
    column()->addWidget(new TightnessFigures(document, sheet));
    connect(heads_, &QButtonGroup::idClicked, this, [this](int page) { turnTo(static_cast<Page>(page)); });
    turnTo(Page::grid);
    connect(hand_, &HandPage::notified, this, &TimingPanel::notified);
    connect(feel_, &FeelPage::notified, this, &TimingPanel::notified);
}

void TimingPanel::turnTo(Page page) {
    heads_->button(static_cast<int>(page))->setChecked(true);
    pages_->setCurrentIndex(static_cast<int>(page));
    for (int i = 0; i < pages_->count(); ++i) // as high as the page that is seen
        pages_->widget(i)->setSizePolicy(
            QSizePolicy::Preferred, i == pages_->currentIndex() ? QSizePolicy::Preferred : QSizePolicy::Ignored);
}

QString TimingPanel::state() const {
    const auto& session = document_.session();
    const FeelUse& use = session.timing.feel;
    const QString feel = use.straight() ? QString() : tr(", %1").arg(QString::fromStdString(use.name));
    return tr("%1 at %2 %")
               .arg(QString::fromStdString(name(session.timing.grid)), number(session.timing.strength, 0)) +
           feel;
}

} // namespace lampo
