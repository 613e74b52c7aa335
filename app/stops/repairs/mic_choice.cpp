#include "stops/repairs/mic_choice.h"

#include <QPushButton>

#include <algorithm>

namespace lampo {

MicChoice::MicChoice(Document& document, QWidget* parent)
    : QMenu(tr("&On which mics"), parent), document_(document) {
    setObjectName(QStringLiteral("On which mics"));
    connect(&document_, &Document::changed, this, &MicChoice::offer);
    offer();
}

QString MicChoice::words() const {
    if (mics_.which == PatchMics::Which::own)
        return tr("the stroke's own mics");
    if (mics_.which == PatchMics::Which::all)
        return tr("all mics");
    QStringList names;
    for (const std::string& stem : mics_.these)
        if (const auto mic = document_.session().micNamed(stem))
            names << QString::fromStdString(document_.session().mics[*mic].shownName());
    return names.isEmpty() ? tr("no mic") : names.join(QStringLiteral(", "));
}

QPushButton* MicChoice::button(const QString& name) {
    auto* button = new QPushButton;
    button->setObjectName(name);
    button->setAccessibleName(tr("On which mics"));
    button->setMenu(this);
    button->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    const auto tell = [this, button] { button->setText(tr("On %1").arg(words())); };
    connect(this, &MicChoice::chosen, button, tell);
    tell();
    return button;
}

std::vector<std::string> MicChoice::named(std::optional<HitIndex> hit) const {
    const auto& hits = document_.outcome().hits;
    const bool there = hit && *hit < hits.size();
    return mics_.which == PatchMics::Which::own && !there
               ? std::vector<std::string>{}
               : mics_.of(document_.session(), there ? hits[*hit] : SongHit{});
}

void MicChoice::choose(const PatchMics& mics) {
    mics_ = mics;
    tick();
    emit chosen(mics_);
}

/// The drums that have several mics as one, then every mic to be ticked.
void MicChoice::offer() {
    std::vector<std::string> stems;
    for (const Mic& mic : document_.session().mics)
        stems.push_back(mic.stem);
    if (std::exchange(offered_, stems) == stems && !actions().isEmpty())
        return;
    clear();
    const auto add = [this](const QString& text, const PatchMics& mics) {
        QAction* action = addAction(text, this, [this, mics] { choose(mics); });
        action->setCheckable(true);
        return action;
    };
    add(tr("The stroke's o&wn"), {PatchMics::Which::own})->setObjectName(QStringLiteral("own mics"));
    add(tr("&All"), {PatchMics::Which::all})->setObjectName(QStringLiteral("all mics"));
    addSeparator();
    std::vector<std::vector<std::string>> drums;
    for (MicIndex mic; mic < document_.session().mics.size(); ++mic)
        if (const auto drum = micsOfDrum(document_.session(), mic);
            drum.size() > 1 && std::find(drums.begin(), drums.end(), drum) == drums.end()) {
            drums.push_back(drum);
            QStringList names;
            for (const std::string& stem : drum)
                names << QString::fromStdString(stem);
            add(names.join(QStringLiteral(", ")), {PatchMics::Which::these, drum});
        }
    addSeparator();
    for (const std::string& stem : stems) {
        QAction* action = addAction(QString::fromStdString(stem));
        action->setCheckable(true);
        action->setData(QString::fromStdString(stem));
        connect(action, &QAction::triggered, this, [this, stem](bool on) {
            PatchMics mics{PatchMics::Which::these, mics_.these};
            std::erase(mics.these, stem);
            if (on)
                mics.these.push_back(stem);
            choose(mics);
        });
    }
    std::erase_if(mics_.these, [&](const std::string& stem) {
        return std::find(stems.begin(), stems.end(), stem) == stems.end();
    });
    if (mics_.which == PatchMics::Which::these && mics_.these.empty())
        mics_ = {};
    tick();
    emit chosen(mics_);
}

void MicChoice::tick() {
    const bool named = mics_.which == PatchMics::Which::these;
    for (QAction* action : actions()) {
        const std::string stem = action->data().toString().toStdString();
        if (!stem.empty())
            action->setChecked(named &&
                               std::find(mics_.these.begin(), mics_.these.end(), stem) != mics_.these.end());
        else
            action->setChecked(
                (action->objectName() == QLatin1String("own mics") && mics_.which == PatchMics::Which::own) ||
                (action->objectName() == QLatin1String("all mics") && mics_.which == PatchMics::Which::all));
    }
}

} // namespace lampo
