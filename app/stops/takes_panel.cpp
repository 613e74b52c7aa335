#include "stops/takes_panel.h"

#include "base/text.h"

#include <QButtonGroup>
#include <QRadioButton>

namespace lampo {

TakesPanel::TakesPanel(Document& document, QWidget* parent) : Panel(document, tr("Takes"), parent) {
    addNote(tr("One take sounds, on every mic. Its hits and landings are its own; what you corrected in another "
               "take stays with that take."));
    list_ = new QVBoxLayout;
    column()->addLayout(list_);
    column()->addStretch(1);
    group_ = new QButtonGroup(this);
    connect(group_, &QButtonGroup::idClicked, this,
            [this](int take) { document_.perform(ChooseTake{static_cast<std::size_t>(take)}); });
    onChange([this] {
        showTakes();
        if (auto* button = group_->button(static_cast<int>(document_.session().lead())))
            button->setChecked(true);
    });
    refresh();
}

void TakesPanel::showTakes() {
    const auto& session = document_.session();
    if (session.takes == shown_)
        return;
    shown_ = session.takes;
    for (QAbstractButton* button : group_->buttons())
        delete button;
    for (std::size_t take = 0; take < shown_.size(); ++take) {
        const double seconds = toSeconds(shown_[take].length, session.rate).value;
        auto* button = new QRadioButton(tr("Take %1, %2 s")
                                            .arg(QLatin1Char(shown_[take].letter))
                                            .arg(QString::fromStdString(trimmedNumber(seconds, 1))));
        button->setToolTip(QString::fromStdString(shown_[take].folder.string()));
        group_->addButton(button, static_cast<int>(take));
        list_->addWidget(button);
    }
}

QString TakesPanel::state() const {
    const auto& session = document_.session();
    if (session.empty())
        return tr("none yet");
    if (session.takes.size() == 1)
        return tr("one take");
    return tr("%1 takes, %2 sounds").arg(session.takes.size()).arg(QLatin1Char(session.take().letter));
}

} // namespace lampo
