#include "takes/tries_page.h"

#include "look/ink.h"
#include "stops/drop_list.h"
#include "takes/takes_words.h"

namespace lampo {

TriesPage::TriesPage(Document& document, TakeStrip& strip, QWidget* parent)
    : Panel(document, {}, parent), strip_(strip) {
    auto* heading = new QLabel(tr("Tries"));
    heading->setFont(textFont(1.0, true));
    column()->addWidget(heading);
    tries_ = new DropList;
    tries_->setObjectName(QStringLiteral("Tries"));
    tries_->setAccessibleName(tr("Tries: Enter lays one, Delete drops it"));
    tries_->setToolTip(tr("A click lays it; Delete drops it"));
    tries_->setFont(textFont(0.9));
    column()->addWidget(tries_);
    const auto lay = [this](QListWidgetItem* item) {
        const auto index = static_cast<std::size_t>(tries_->row(item));
        const auto range = document_.session().tries[index].range;
        document_.perform(LayTry{index});
        strip_.choose(std::nullopt, range);
    };
    connect(tries_, &QListWidget::itemClicked, this, lay);
    connect(tries_, &QListWidget::itemActivated, this, lay);
    connect(tries_, &DropList::dropWanted, this,
            [this](int row) { document_.perform(DeleteTry{static_cast<std::size_t>(row)}); });
    onChange([this] { fill(); });
    refresh();
}

void TriesPage::fill() {
    const Session& session = document_.session();
    const int kept = tries_->currentRow();
    const QSignalBlocker quiet(tries_);
    tries_->clear();
    for (const Try& one : session.tries) {
        QStringList letters;
        for (const Passage& passage : one.passages)
            letters << (passage.take ? QString(QLatin1Char(session.takes[*passage.take].letter.value)) +
                                           (passage.graft ? tr(" (graft)") : QString())
                                     : tr("silence"));
        const bool sounds = session.comp.inside(one.range) == one.passages;
        tries_->addItem(tr("%1: %2%3")
                            .arg(rangeWords(session, one.range), letters.join(QStringLiteral(", ")),
                                 sounds ? tr(" — sounds") : QString()));
    }
    tries_->setCurrentRow(std::min(kept, tries_->count() - 1));
    setVisible(tries_->count() > 0);
    tries_->setFixedHeight(std::min(4, tries_->count()) * (tries_->sizeHintForRow(0) + 1) + 6);
}

} // namespace lampo
