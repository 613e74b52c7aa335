#include "shell/repair_menu.h"

#include "advice/donor_alignment.h"
#include "advice/hit_edits.h"
#include "advice/patch_advice.h"
#include "base/text.h"
#include "look/number.h"

#include <QMenu>

#include <algorithm>

namespace lampo {

RepairMenu::RepairMenu(const ActionMenu& where, Document& document, SheetWidget& sheet)
    : QObject(where.menu), document_(document), sheet_(sheet) {
    const auto add = [&](const char* name, const QString& text, const QString& keys, std::function<void()> call) {
        where.menu->addAction(
            where.actions.add(QString::fromLatin1(name), text, QKeySequence(keys), std::move(call)));
    };
    const auto session = [this]() -> const Session& { return document_.session(); };
    const auto outcome = [this]() -> const Outcome& { return document_.outcome(); };
    add("replace-stroke", tr("&Replace the stroke, or try the next one"), tr("Ctrl+R"), [this] { replace(); });
    add("bring-together", tr("&Bring its drums together"), tr("Ctrl+B"), [this, session, outcome] {
        const auto hit = sheet_.state().selected;
        const auto edit = broughtTogether(session(), outcome(), hit.value_or(HitIndex{outcome().hits.size()}));
        QString done;
        if (edit) {
            const FrameCount shift = edit->patches.front().shift;
            done = tr("Shifted by %1 ms against the other mics: what they share cancels first at %2 Hz")
                       .arg(number(toMilliseconds(shift, session().rate).value, 1),
                            number(firstNotch(shift, session().rate), 0));
        }
        perform(edit, done);
    });
    add("level-strokes", tr("&Level the chosen strokes"), tr("Ctrl+Shift+L"), [this, session, outcome] {
        const auto edit = levelled(session(), outcome(), sheet_.state().selection, 100);
        perform(edit, edit ? tr("%1 levelled to their median").arg(counted(std::ssize(edit->patches), tr("stroke")))
                           : QString());
    });
    add("stroke-louder", tr("1 dB l&ouder"), tr("Ctrl+Shift+PgUp"), [this] { louder(1); });
    add("stroke-softer", tr("1 dB &softer"), tr("Ctrl+Shift+PgDown"), [this] { louder(-1); });
    where.menu->addSeparator();
    add("silence-toms", tr("Silence &toms outside their strokes"), {}, [this, session, outcome] {
        const auto edit = tomsSilenced(session(), outcome(), session().lead());
        perform(edit,
                edit ? tr("%1 silenced").arg(counted(std::ssize(edit->patches), tr("stretch"), tr("stretches")))
                     : QString());
    });
    where.menu->addSeparator();
    add("switch-patches", tr("Patches of these hits on or o&ff"), tr("Ctrl+E"), [this] { switchOff(); });
    add("delete-patches", tr("&Delete the patches of these hits"), tr("Ctrl+Shift+Del"), [this] {
        const auto patches = ofChosen();
        if (patches.empty())
            return emit notified(tr("No patch lies on the chosen hits"));
        document_.perform(PatchEdit{DeletePatches{patches}});
    });
}

void RepairMenu::perform(const Expected<AddPatches>& edit, const QString& done) {
    if (!edit)
        return emit notified(QString::fromStdString(edit.error().sentence));
    document_.perform(PatchEdit{*edit});
    emit notified(done);
}

bool RepairMenu::isOn(std::size_t patch, HitIndex hit) const {
    return document_.session().patches[patch].at == placeOf(document_.session(), document_.outcome().hits[hit]);
}

std::vector<std::size_t> RepairMenu::ofChosen(std::optional<PatchKind> kind) const {
    std::vector<std::size_t> indices;
    const Session& session = document_.session();
    for (std::size_t index = 0; index < session.patches.size(); ++index) {
        const Patch& patch = session.patches[index];
        const auto& chosen = sheet_.state().selection;
        if ((!kind || patch.kind == *kind) && patch.ofHit &&
            std::any_of(chosen.begin(), chosen.end(), [&](HitIndex hit) { return isOn(index, hit); }))
            indices.push_back(index);
    }
    return indices;
}

/// By the best donor; where the stroke is replaced already, by the one that comes next.
void RepairMenu::replace() {
    const HitIndex hit = sheet_.state().selected.value_or(HitIndex{document_.outcome().hits.size()});
    const Session& session = document_.session();
    const auto donors = donorsFor(session, document_.outcome(), hit);
    if (!donors || donors->empty())
        return emit notified(donors ? tr("There is no other stroke of this drum")
                                    : QString::fromStdString(donors.error().sentence));
    const auto there = ofChosen(PatchKind::replace);
    std::size_t next = 0;
    if (!there.empty())
        for (std::size_t i = 0; i < donors->size(); ++i)
            if ((*donors)[i].at == session.patches[there.front()].from)
                next = (i + 1) % donors->size();
    const Donor& donor = (*donors)[next];
    auto patch = replacement(session, document_.outcome(), hit, donor);
    if (!patch)
        return emit notified(QString::fromStdString(patch.error().sentence));
    KitReader kit(session);
    const auto later = alignedLater(session, kit, *patch);
    if (!later)
        return emit notified(QString::fromStdString(later.error().sentence));
    patch->shift = *later;
    document_.perform(there.empty() ? Edit{PatchEdit{AddPatches{{*patch}}}}
                                    : Edit{PatchEdit{ChangePatch{there.front(), *patch}}});
    emit notified(tr("By stroke %1 of %2, take %3, %4 dB; the other mics stay as they are")
                      .arg(next + 1)
                      .arg(donors->size())
                      .arg(QLatin1Char(donor.at.take.value))
                      .arg(number(patch->gain.value, 1)));
}

/// What has a gain already is changed, the others get one: one step together.
void RepairMenu::louder(double decibels) {
    const int gesture = Document::newGesture();
    const auto there = ofChosen(PatchKind::gain);
    std::vector<HitIndex> without;
    for (const HitIndex hit : sheet_.state().selection)
        if (std::none_of(there.begin(), there.end(), [&](std::size_t patch) { return isOn(patch, hit); }))
            without.push_back(hit);
    for (const std::size_t index : there) {
        Patch patch = document_.session().patches[index];
        patch.gain.value = std::clamp(patch.gain.value + decibels, limits::patchGain.low, limits::patchGain.high);
        document_.perform(PatchEdit{ChangePatch{index, patch}}, gesture);
    }
    const auto added = lampo::louder(document_.session(), document_.outcome(), without, {decibels});
    if (added)
        document_.perform(PatchEdit{*added}, gesture);
    emit notified(added || !there.empty() ? tr("On the mics of these drums alone")
                                          : QString::fromStdString(added.error().sentence));
}

void RepairMenu::switchOff() {
    const auto patches = ofChosen();
    if (patches.empty())
        return emit notified(tr("No patch lies on the chosen hits"));
    document_.perform(PatchEdit{SwitchPatches{patches, !document_.session().patches[patches.front()].on}});
}

} // namespace lampo
