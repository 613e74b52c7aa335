#include "stops/proof/compare_page.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSignalBlocker>

#include <algorithm>

namespace lampo {

ComparePage::ComparePage(Document& document, QWidget* parent)
    : Panel(document, {}, parent), first_(new QComboBox), second_(new QComboBox),
      atOneLoudness_(new QCheckBox(tr("at one loudness"))), hearFirst_(new QPushButton(tr("Hear the one"))),
      hearSecond_(new QPushButton(tr("the other"))), hearDifference_(new QPushButton(tr("how they differ"))),
      view_(new DifferenceView(document)) {
    auto* form = addForm();
    const auto addBox = [&](QComboBox* box, const QString& label, const char* name) {
        box->setObjectName(QLatin1String(name));
        box->setAccessibleName(label);
        box->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
        form->addRow(label, box);
        connect(box, &QComboBox::activated, this, &ComparePage::wish);
    };
    addBox(first_, tr("The one"), "Compare this");
    addBox(second_, tr("The other"), "Compare that");
    atOneLoudness_->setObjectName(QStringLiteral("At one loudness"));
    atOneLoudness_->setToolTip(tr("The one is made as loud as the other around the place that is heard"));
    atOneLoudness_->setChecked(true);
    connect(atOneLoudness_, &QCheckBox::toggled, this, &ComparePage::wish);
    column()->addWidget(atOneLoudness_);
    auto* row = new QHBoxLayout;
    const auto addButton = [&](QPushButton* button, const char* name, auto&& press) {
        button->setObjectName(QLatin1String(name));
        button->setCheckable(true);
        row->addWidget(button);
        connect(button, &QPushButton::clicked, this, press);
    };
    const auto hear = [this](bool second, bool difference) {
        hearing_ = true;
        hearsSecond_ = second;
        hearsDifference_ = difference;
        wish();
    };
    addButton(hearFirst_, "Hear this", [hear] { hear(false, false); });
    addButton(hearSecond_, "Hear that", [hear] { hear(true, false); });
    addButton(hearDifference_, "Hear difference", [hear] { hear(false, true); });
    column()->addLayout(row);
    auto* seen = addNote(tr("What differs, mic by mic: the higher, the louder. A click goes there."));
    seen->setObjectName(QStringLiteral("Difference note"));
    column()->addWidget(view_, 1);
    connect(view_, &DifferenceView::placeChosen, this, &ComparePage::placeChosen);
    onChange([this] { offer(); });
    refresh();
}

const Monitored& ComparePage::choice(QComboBox* box) const {
    static const Monitored landed{Monitored::Kind::landed, 0};
    const auto index = static_cast<std::size_t>(std::max(0, box->currentIndex()));
    return index < choices_.size() ? choices_[index].second : landed;
}

/// What was chosen stays chosen while it is there.
void ComparePage::offer() {
    const Session& session = document_.session();
    std::vector<Hearable> now{{tr("as landed"), {Monitored::Kind::landed, 0}},
                              {tr("as played"), {Monitored::Kind::played, 0}},
                              {tr("landed, the cuts alone"), {Monitored::Kind::cuts, 0}}};
    const auto versions = hearableVersions(session);
    now.insert(now.end(), versions.begin(), versions.end());
    if (now != choices_) {
        const Monitored kept[] = {choice(first_), first_->count() > 0 ? choice(second_) : now[1].second};
        choices_ = now;
        int which = 0;
        for (QComboBox* box : {first_, second_}) {
            const QSignalBlocker quiet(box);
            box->clear();
            int row = which;
            for (std::size_t i = 0; i < choices_.size(); ++i) {
                box->addItem(choices_[i].first);
                if (choices_[i].second == kept[which])
                    row = static_cast<int>(i);
            }
            box->setCurrentIndex(row);
            ++which;
        }
    }
    view_->setWanted(choice(first_), choice(second_));
}

void ComparePage::wish() {
    view_->setWanted(choice(first_), choice(second_));
    hearFirst_->setChecked(hearing_ && !hearsSecond_ && !hearsDifference_);
    hearSecond_->setChecked(hearing_ && hearsSecond_);
    hearDifference_->setChecked(hearing_ && hearsDifference_);
    if (!hearing_)
        return;
    const Monitored& heard = choice(hearsSecond_ ? second_ : first_);
    // The second one is what both are made as loud as.
    std::optional<PlayerControl::Comparison> comparison;
    if (!hearsSecond_)
        comparison = PlayerControl::Comparison{choice(second_), atOneLoudness_->isChecked(), hearsDifference_};
    emit wished({heard, comparison});
}

void ComparePage::hearOther() {
    hearsSecond_ = hearing_ && !hearsDifference_ ? !hearsSecond_ : false;
    hearsDifference_ = false;
    hearing_ = true;
    wish();
}

void ComparePage::hearDifference() {
    hearsDifference_ = !(hearing_ && hearsDifference_);
    hearsSecond_ = false;
    hearing_ = true;
    wish();
}

void ComparePage::leave() {
    if (!std::exchange(hearing_, false))
        return;
    wish();
    emit wished({{}, {}});
}

void ComparePage::showEvent(QShowEvent* event) {
    Panel::showEvent(event);
    view_->setWanted(choice(first_), choice(second_));
}

/// Nobody looks here for why something else is heard.
void ComparePage::hideEvent(QHideEvent*) {
    leave();
}

} // namespace lampo
