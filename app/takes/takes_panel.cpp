#include "takes/takes_panel.h"

#include "look/number.h"
#include "takes/border_page.h"
#include "takes/range_page.h"
#include "takes/take_rows.h"
#include "takes/tries_page.h"

namespace lampo {

TakesPanel::TakesPanel(Document& document, TakeStrip& strip, QWidget* parent)
    : Panel(document, tr("Takes"), parent) {
    auto* rows = new TakeRows(document, strip, this);
    auto* range = new RangePage(document, strip, this);
    for (QWidget* part : std::initializer_list<QWidget*>{rows, range, new TriesPage(document, strip, this),
                                                         new BorderPage(document, strip, this)})
        column()->addWidget(part);
    column()->addStretch(1);
    connect(rows, &TakeRows::lineUpWanted, this, &TakesPanel::lineUpWanted);
    connect(range, &RangePage::triggered, this, &TakesPanel::triggered);
    refresh();
}

QString TakesPanel::state() const {
    const Session& session = document_.session();
    if (session.empty())
        return tr("none yet");
    if (session.takes.size() == 1 && session.comp.passages.size() == 1)
        return tr("one take");
    const auto borders = std::ssize(session.comp.passages) - 1;
    return borders == 0
               ? tr("%1 takes, %2 sounds").arg(session.takes.size()).arg(QLatin1Char(session.take().letter.value))
               : tr("%1 takes, %2").arg(session.takes.size()).arg(counted(borders, tr("border")));
}

} // namespace lampo
