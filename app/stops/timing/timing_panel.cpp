#include "stops/timing/timing_panel.h"

#include "stops/pages.h"
#include "stops/timing/feel_page.h"
#include "stops/timing/figures.h"
#include "stops/timing/grid_page.h"
#include "stops/timing/hand_page.h"

namespace lampo {

TimingPanel::TimingPanel(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, tr("Timing"), parent), pages_(new Pages), hand_(new HandPage(document, sheet)),
      feel_(new FeelPage(document, sheet)) {
    pages_->add(tr("Grid"), new GridPage(document));
    pages_->add(tr("Feel"), feel_);
    pages_->add(tr("By hand"), hand_);
    column()->addWidget(pages_, 1);
    column()->addWidget(new TightnessFigures(document, sheet));
    connect(hand_, &HandPage::notified, this, &TimingPanel::notified);
    connect(feel_, &FeelPage::notified, this, &TimingPanel::notified);
}

void TimingPanel::turnTo(Page page) {
    pages_->turnTo(static_cast<int>(page));
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
