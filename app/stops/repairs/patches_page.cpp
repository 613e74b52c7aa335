#include "stops/repairs/patches_page.h"

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
    case PatchKind::seam:
        return QObject::tr("joined elsewhere");
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
    bool isNumberedInOrder() const override { return false; }
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
            return patch.kind == PatchKind::silence || patch.kind == PatchKind::seam
                       ? QString()
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
            {PatchesPage::tr("By"), PatchesPage::tr("How much"), 9, true},
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
    addFields();
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

void PatchesPage::addField(QFormLayout* form, const QString& label, const limits::Setting& setting, int decimals,
                           std::function<double(const Patch&)> read, std::function<void(Patch&, double)> write) {
    addNumber(
        form, numberOf(label, setting, decimals),
        [this, read, setting] {
            const auto patches = chosen();
            return patches.empty() ? setting.defaultValue : read(document_.session().patches[patches.front()]);
        },
        [this, write](double value) -> std::optional<Edit> {
            ChangePatches edit;
            for (const std::size_t index : chosen()) {
                edit.changed.emplace_back(index, document_.session().patches[index]);
                write(edit.changed.back().second, value);
            }
            return edit.changed.empty() ? std::nullopt : std::optional<Edit>(PatchEdit{edit});
        });
    onChange([this, label] {
        if (auto* field = findChild<QWidget*>(label))
            field->setEnabled(!chosen().empty());
    });
}

/// Of all that are chosen; those of the first are shown.
void PatchesPage::addFields() {
    auto* form = addForm();
    const auto ms = [this](FrameCount count) { return toMilliseconds(count, document_.session().rate).value; };
    const auto frames = [this](double value) { return toFrames(Milliseconds{value}, document_.session().rate); };
    addField(
        form, tr("Its gain"), limits::patchGain, 1, [](const Patch& patch) { return patch.gain.value; },
        [](Patch& patch, double value) { patch.gain = {value}; });
    addField(
        form, tr("Later by"), limits::patchShift, 2, [ms](const Patch& patch) { return ms(patch.shift); },
        [frames](Patch& patch, double value) { patch.shift = frames(value); });
    addField(
        form, tr("Begins before"), limits::patchBefore, 1, [ms](const Patch& patch) { return ms(patch.before); },
        [frames](Patch& patch, double value) {
            const FrameCount before = frames(value);
            patch.length = std::max(FrameCount{1}, patch.length + (before - patch.before));
            patch.before = before;
        });
    addField(
        form, tr("Its length"), limits::patchLength, 0, [ms](const Patch& patch) { return ms(patch.length); },
        [frames](Patch& patch, double value) { patch.length = std::max(FrameCount{1}, frames(value)); });
    addField(
        form, tr("Fades in"), limits::patchFade, 1, [](const Patch& patch) { return patch.fadeIn.value; },
        [](Patch& patch, double value) { patch.fadeIn = {value}; });
    addField(
        form, tr("Fades out"), limits::patchFade, 1, [](const Patch& patch) { return patch.fadeOut.value; },
        [](Patch& patch, double value) { patch.fadeOut = {value}; });
    addNumber(
        form, numberOf(tr("Warn of shifts over"), limits::farShift, 1),
        [this] { return document_.session().seams.farShift.value; },
        [](double value) { return SeamEdit{SetFarShift{{value}}}; });
}

QString PatchesPage::tally() const {
    const auto count = std::ssize(document_.session().patches);
    if (count == 0)
        return tr(
            "No patches: what Strokes and Stretches mend on some mics is listed here; all others stay as they "
            "are.");
    const auto lost = std::ssize(document_.outcome().lostPatches);
    return lost == 0 ? tr("%1 on top of the one plan.").arg(counted(count, tr("patch"), tr("patches")))
                     : tr("%1 on top of the one plan, %2 without a hit.")
                           .arg(counted(count, tr("patch"), tr("patches")))
                           .arg(lost);
}

} // namespace lampo
