#include "stops/seams/seams_panel.h"

#include "base/text.h"
#include "stops/pages.h"
#include "stops/seams/rules_page.h"

#include <algorithm>

namespace lampo {

SeamsPanel::SeamsPanel(Document& document, SheetWidget& sheet, QWidget* parent)
    : Panel(document, tr("Seams"), parent), mics_(document, this), strokeRepairs_(document, sheet, mics_),
      stretchRepairs_(document, sheet, mics_), page_(new SeamsPage(document)),
      strokes_(new StrokesPage(document, sheet, strokeRepairs_, mics_)), patches_(new PatchesPage(document)) {
    auto* pages = new Pages;
    pages->add(tr("One by one"), page_);
    pages->add(tr("In general"), new SeamRulesPage(document));
    pages->add(tr("Strokes"), strokes_);
    pages->add(tr("Stretches"), new StretchesPage(document, sheet, stretchRepairs_, mics_));
    pages->add(tr("Patches"), patches_);
    column()->addWidget(pages, 1);
    refresh();
}

QString SeamsPanel::state() const {
    const auto& plan = *document_.outcome().plan;
    QString seams = counted(std::ssize(plan.seams), tr("seam"));
    const auto open = std::count_if(plan.seams.begin(), plan.seams.end(), [](const Seam& seam) {
        return seam.kind == SeamKind::opened && seam.between; // others are the ends of silent passages
    });
    if (open > 0)
        return tr("%1, %2 open").arg(seams).arg(open);
    const auto shaped = std::ssize(document_.session().seamsByHand);
    return shaped > 0 ? tr("%1, %2 by hand").arg(seams).arg(shaped) : seams;
}

} // namespace lampo
