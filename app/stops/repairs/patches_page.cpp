#include "stops/seams/patches_page.h"

#include "base/text.h"
#include "look/number.h"
#include "map/musical_map.h"

#include <QHBoxLayout>
#include <QPushButton>

#include <utility>

namespace lampo {
namespace {

QString wordsFor(PatchKind kind) {
    switch (kind) {
    case PatchKind::replace:
        return QObject::tr("another stroke");
    case PatchKind::shift:
        return QObject::tr("shifted");
    case PatchKind::gain:
        return QObject::tr("levelled");
    case PatchKind::silence:
        return QObject::tr("silent");
    case PatchKind::borrow:
        return QObject::tr("borrowed");
    }
    return {};
}

class PatchesModel : public ChoiceModel {
public:
    enum Column { place, mics, what, howMuch, state };
    explicit PatchesModel(Document& document) : ChoiceModel(columns()), document_(document) {}

    /// Where a patch sounds first; null where it does not.
    const PlannedPatch* soundingOf(std::size_t patch) const {
        const auto& plan = document_.outcome().plan;
        if (std::exchange(plan_, plan) != plan) { // a thousand cells ask
            sounding_.assign(document_.session().patches.size(), nullptr);
            for (auto planned = plan_->patches.rbegin(); planned != plan_->patches.rend(); ++planned)
                sounding_[planned->patch] = &*planned;
        }
        return patch < sounding_.size() ? sounding_[patch] : nullptr;
    }

protected:
    std::size_t count() const override { return document_.session().patches.size(); }
    QString text(std::size_t item, int column) const override {
        const Session& session = document_.session();
        const Patch& patch = session.patches[item];
        const PlannedPatch* sounding = soundingOf(item);
        switch (column) {
        case place: {
            if (!sounding)
                return PatchesPage::tr("nowhere");
            const BarBeat at =
                MusicalMap(session.map, session.rate).barBeat(asSong(sounding->sounds.begin + patch.before));
            return QStringLiteral("%1 : %2").arg(at.bar).arg(at.beat, 0, 'f', 2);
        }
        case mics: {
            QStringList names;
            for (const std::string& stem : patch.mics)
                names << QString::fromStdString(stem);
            return names.join(QStringLiteral(", "));
        }
        case what:
            return wordsFor(patch.kind);
        case howMuch:
            if (patch.kind == PatchKind::shift)
                return PatchesPage::tr("%1 ms").arg(number(toMilliseconds(patch.shift, session.rate).value, 1));
            return patch.kind == PatchKind::silence ? QString()
                                                    : PatchesPage::tr("%1 dB").arg(number(patch.gain.value, 1));
        default:
            return !patch.on ? PatchesPage::tr("off") : sounding ? PatchesPage::tr("on") : PatchesPage::tr("lost");
        }
    }
    bool before(std::size_t a, std::size_t b, int column) const override {
        if (column == howMuch) {
            const auto much = [&](std::size_t item) {
                const Patch& patch = document_.session().patches[item];
                return std::pair(patch.gain, patch.shift);
            };
            return much(a) < much(b);
        }
        if (column != place)
            return text(a, column) < text(b, column);
        const auto at = [&](std::size_t item) {
            const PlannedPatch* sounding = soundingOf(item);
            return sounding ? sounding->sounds.begin : ResultFrame{-1};
        };
        return at(a) < at(b);
    }

private:
    static std::vector<ChoiceModel::Column> columns() {
        return {
            {PatchesPage::tr("Place"), PatchesPage::tr("Bar and beat"), 9},
            {PatchesPage::tr("Mics"), PatchesPage::tr("That it lies on; all others stay as they are"), 11},
            {PatchesPage::tr("What"), PatchesPage::tr("What is heard there"), 9},
            {PatchesPage::tr("By"), PatchesPage::tr("How much"), 7, true},
            {PatchesPage::tr("State"), PatchesPage::tr("Lost: its hit is gone, or its place does not sound"), 5}};
    }

    Document& document_;
    mutable std::shared_ptr<const Plan> plan_; ///< that `sounding_` speaks of
    mutable std::vector<const PlannedPatch*> sounding_;
};

} // namespace

PatchesPage::PatchesPage(Document& document, QWidget* parent) : Panel(document, {}, parent) {
    auto* note = addNote();
    note->setObjectName(QStringLiteral("Patches tally"));
    onChangeWhileVisible([this, note] { note->setText(tally()); });
    addTable();
    addButtons();
    addGain();
    refresh();
}

void PatchesPage::addTable() {
    auto* model = new PatchesModel(document_);
    table_ = new ChoiceTable(model, tr("Patches"));
    column()->addWidget(table_, 1);
    onChangeWhileVisible([this] { table_->refresh(); });
    connect(table_, &ChoiceTable::chosen, this,
            [this, model](const std::vector<std::size_t>& items, std::size_t current) {
                chosen_ = items;
                if (const PlannedPatch* sounding = model->soundingOf(current))
                    emit placeChosen(sounding->sounds.begin);
                refresh();
            });
}

std::vector<std::size_t> PatchesPage::chosen() const {
    std::vector<std::size_t> there;
    for (const std::size_t patch : chosen_)
        if (patch < document_.session().patches.size())
            there.push_back(patch);
    return there;
}

void PatchesPage::addButtons() {
    auto* row = new QHBoxLayout;
    const auto add = [&](const QString& text, const char* name, auto&& press) {
        auto* button = new QPushButton(text);
        button->setObjectName(QLatin1String(name));
        row->addWidget(button);
        connect(button, &QPushButton::clicked, this, press);
        onChange([this, button] { button->setEnabled(!chosen().empty()); });
    };
    add(tr("On or off"), "Switch patch", [this] {
        const auto patches = chosen();
        document_.perform(PatchEdit{SwitchPatches{patches, !document_.session().patches[patches.front()].on}});
    });
    add(tr("Delete"), "Delete patch", [this] {
        const auto patches = chosen();
        chosen_.clear();
        document_.perform(PatchEdit{DeletePatches{patches}});
    });
    column()->addLayout(row);
}

void PatchesPage::addGain() {
    auto* form = addForm();
    addNumber(
        form, numberOf(tr("Its gain"), limits::patchGain, 1),
        [this] { return chosen().empty() ? 0 : document_.session().patches[chosen().front()].gain.value; },
        [this](double value) -> std::optional<Edit> {
            if (chosen().empty())
                return std::nullopt;
            const std::size_t index = chosen().front();
            Patch patch = document_.session().patches[index];
            patch.gain = {value};
            return Edit{PatchEdit{ChangePatch{index, patch}}};
        });
    onChange([this] {
        if (auto* field = findChild<QWidget*>(tr("Its gain")))
            field->setEnabled(!chosen().empty());
    });
}

QString PatchesPage::tally() const {
    const auto count = std::ssize(document_.session().patches);
    if (count == 0)
        return tr("No patches. The menu Repairs replaces a chosen stroke, levels several, brings drums together "
                  "and silences "
                  "toms; all other mics stay as they are.");
    const auto lost = std::ssize(document_.outcome().lostPatches);
    return lost == 0 ? tr("%1 on top of the one plan.").arg(counted(count, tr("patch"), tr("patches")))
                     : tr("%1 on top of the one plan, %2 without a hit.")
                           .arg(counted(count, tr("patch"), tr("patches")))
                           .arg(lost);
}

} // namespace lampo
