#include "stops/seams_panel.h"

#include "look/number.h"

#include <algorithm>

namespace lampo {

SeamsPanel::SeamsPanel(Document& document, QWidget* parent) : Panel(document, tr("Seams"), parent) {
    auto* form = addForm();
    addNumber(
        form, numberOf(tr("Lead-in"), limits::leadIn, 1), [this] { return document_.session().seams.leadIn.value; },
        [](double value) { return SetLeadIn{{value}}; }, true);
    addNumber(
        form, numberOf(tr("Fade"), limits::fade, 1), [this] { return document_.session().seams.fade.value; },
        [](double value) { return SetFade{{value}}; }, true);
    addChoice(
        form, tr("Holes"), {tr("borrow the tail before"), tr("leave open")},
        [this] { return static_cast<int>(document_.session().seams.fill); },
        [](int index) { return SetFill{static_cast<Fill>(index)}; });
    addNote(tr("Every mic is joined at the same sample, by the same curve. From 1 ms before to 15 ms after each "
               "attack the sound is the recording itself."));
    column()->addStretch(1);
    refresh();
}

QString SeamsPanel::state() const {
    const auto& plan = *document_.outcome().plan;
    const QString seams = counted(std::ssize(plan.seams), tr("seam"));
    if (document_.session().seams.fill == Fill::open) {
        const auto open = std::count_if(plan.seams.begin(), plan.seams.end(),
                                        [](const Seam& seam) { return seam.kind == SeamKind::opened; });
        return tr("%1, %2 open").arg(seams).arg(open);
    }
    return seams;
}

} // namespace lampo
