#include "stops/proof_panel.h"

#include "base/text.h"
#include "look/number.h"
#include "map/musical_map.h"

#include <QListWidget>
#include <QSignalBlocker>

namespace lampo {

ProofPanel::ProofPanel(Document& document, QWidget* parent) : Panel(document, tr("Proof"), parent) {
    addNote(tr("Places that want an ear, worst first."));
    list_ = new QListWidget;
    list_->setWordWrap(true);
    list_->setResizeMode(QListView::Adjust);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list_->setTextElideMode(Qt::ElideNone);
    list_->setAccessibleName(tr("Places that want an ear"));
    column()->addWidget(list_, 1);
    connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (row >= 0)
            emit placeChosen(document_.outcome().warnings[static_cast<std::size_t>(row)].at);
    });
    onChange([this] { showWarnings(); });
    refresh();
}

void ProofPanel::showWarnings() {
    const QSignalBlocker quiet(list_);
    const int kept = list_->currentRow();
    list_->clear();
    const MusicalMap map(document_.session().map, document_.session().rate);
    for (const Warning& warning : document_.outcome().warnings) {
        const BarBeat place = map.barBeat(asSong(warning.at));
        list_->addItem(
            tr("Bar %1, beat %2\n%3.")
                .arg(place.bar)
                .arg(QString::fromStdString(trimmedNumber(place.beat, 2)), QString::fromStdString(warning.text)));
    }
    list_->setCurrentRow(std::min(kept, list_->count() - 1));
}

void ProofPanel::go(int step) {
    if (list_->count() > 0)
        list_->setCurrentRow((list_->currentRow() + step + list_->count()) % list_->count());
}

QString ProofPanel::state() const {
    const auto open = std::ssize(document_.outcome().warnings);
    return open == 0 ? tr("nothing open") : counted(open, tr("place"));
}

} // namespace lampo
