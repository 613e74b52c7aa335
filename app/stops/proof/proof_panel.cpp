#include "stops/proof/proof_panel.h"

#include "stops/pages.h"
#include "stops/proof/figures_page.h"

#include <algorithm>

namespace lampo {

ProofPanel::ProofPanel(Document& document, QWidget* parent)
    : Panel(document, tr("Proof"), parent), places_(new PlacesPage(document)), compare_(new ComparePage(document)) {
    auto* figures = new FiguresPage(document);
    auto* pages = new Pages;
    pages->add(tr("Places"), places_);
    pages->add(tr("Figures"), figures);
    pages->add(tr("Compare"), compare_);
    column()->addWidget(pages, 1);
    connect(figures, &FiguresPage::notified, this, &ProofPanel::notified);
    connect(&document, &Document::proofChanged, this, &ProofPanel::stateChanged);
    connect(&document, &Document::proofProgressed, this, &ProofPanel::stateChanged);
    refresh();
}

QString ProofPanel::state() const {
    if (document_.session().empty())
        return {};
    if (!document_.proof().outcome)
        return document_.proofWork().busy() ? tr("listening") : tr("not listened to");
    const auto& places = document_.proof().proof.places;
    const auto open = std::count_if(places.begin(), places.end(),
                                    [](const ProofPlace& place) { return place.state == ProofState::open; });
    return open == 0 ? tr("nothing open") : tr("%1 open").arg(counted(open, tr("place")));
}

} // namespace lampo
