#include "stops/repairs/stroke_repairs.h"

#include "advice/donor_alignment.h"
#include "advice/kept_elsewhere.h"
#include "look/number.h"

#include <algorithm>

namespace lampo {
namespace {

constexpr Milliseconds runUp{1000}, runOut{700}; ///< heard around a stroke
constexpr double lowestHeard = 20;               ///< Hz: a notch below is none

} // namespace

StrokeRepairs::StrokeRepairs(Document& document, SheetWidget& sheet, MicChoice& mics)
    : document_(document), sheet_(sheet), mics_(mics) {
    connect(&sheet_, &SheetWidget::hitSelected, this, [this] {
        gesture_ = Document::newGesture();
        endOnly();
    });
    connect(&sheet_, &SheetWidget::seamsChosen, this, &StrokeRepairs::endOnly);
    connect(&document_, &Document::onlyChanged, this, [this] { emit onlyChanged(only()); });
    connect(&document_, &Document::changed, this, &StrokeRepairs::tellShift);
    connect(&mics_, &MicChoice::chosen, &sheet_, &SheetWidget::setRepairsOn);
}

HitIndex StrokeRepairs::current() const {
    return sheet_.state().selected.value_or(HitIndex{document_.outcome().hits.size()});
}

Expected<std::vector<Donor>> StrokeRepairs::donors() const {
    return donorsFor(document_.session(), document_.outcome(), current());
}

std::optional<std::size_t> StrokeRepairs::donorInUse(const std::vector<Donor>& donors) const {
    for (const std::size_t index : ofChosen())
        if (const Patch& patch = document_.session().patches[index];
            patch.kind == PatchKind::replace &&
            liesOn(document_.session(), patch, document_.outcome().hits[current()]))
            for (std::size_t donor = 0; donor < donors.size(); ++donor)
                if (donors[donor].at == patch.from)
                    return donor;
    return std::nullopt;
}

void StrokeRepairs::replaceBy(const Donor& donor, bool alone) {
    const Session& session = document_.session();
    auto patch = replacement(session, document_.outcome(), current(), donor, donorLevel_);
    if (!patch)
        return emit notified(QString::fromStdString(patch.error().sentence));
    if (mics_.mics().which == PatchMics::Which::these)
        patch->mics = mics_.mics().of(session, document_.outcome().hits[current()]);
    KitReader kit(session);
    const auto later = alignedLater(session, kit, *patch);
    if (!later)
        return emit notified(QString::fromStdString(later.error().sentence));
    patch->shift = *later;
    perform(AddPatches{{*patch}},
            tr("By a stroke of take %1, %2 dB. %3")
                .arg(QLatin1Char(donor.at.take.value))
                .arg(number(patch->gain.value, 1), kept()),
            alone ? 0 : gesture_);
}

void StrokeRepairs::replaceByNext() {
    const auto all = donors();
    if (!all || all->empty())
        return emit notified(all ? tr("There is no other stroke of this drum")
                                 : QString::fromStdString(all.error().sentence));
    const auto used = donorInUse(*all);
    const std::size_t next = used ? (*used + 1) % all->size() : 0;
    replaceBy((*all)[next], true);
}

void StrokeRepairs::setDonorLevel(DonorLevel level) {
    donorLevel_ = level;
    if (const auto all = donors())
        if (const auto used = donorInUse(*all))
            replaceBy((*all)[*used]);
}

QString StrokeRepairs::kept() const {
    const HitIndex hit = current();
    const Session& session = document_.session();
    if (hit >= document_.outcome().hits.size() || !document_.outcome().hits[hit].mic)
        return {};
    Patch patch;
    patch.at = placeOf(session, document_.outcome().hits[hit]);
    patch.mics = mics_.mics().of(session, document_.outcome().hits[hit]);
    KitReader kit(session);
    const auto kept = keptElsewhere(session, kit, patch);
    if (!kept)
        return QString::fromStdString(kept.error().sentence);
    if (kept->empty())
        return tr("No other mic keeps anything of it");
    constexpr std::size_t named = 4;
    QStringList words;
    for (std::size_t i = 0; i < std::min(named, kept->size()); ++i)
        words << tr("%1 %2 dB").arg(QString::fromStdString((*kept)[i].mic), number((*kept)[i].level.value, 0));
    if (kept->size() > named)
        words << tr("others less");
    return tr("The other mics keep it: %1").arg(words.join(QStringLiteral(", ")));
}

std::optional<Range<ResultFrame>> StrokeRepairs::around() const {
    const HitIndex hit = current();
    if (hit >= document_.outcome().hits.size())
        return std::nullopt;
    const ResultFrame at = document_.outcome().landings[hit].at;
    const SampleRate rate = document_.session().rate;
    return Range<ResultFrame>{std::max(ResultFrame{}, at - toFrames(runUp, rate)), at + toFrames(runOut, rate)};
}

void StrokeRepairs::perform(const Expected<AddPatches>& edit, const QString& done, int gesture) {
    if (!edit)
        return emit notified(QString::fromStdString(edit.error().sentence));
    if (document_.perform(PatchEdit{*edit}, gesture) && !done.isEmpty())
        emit notified(done);
}

QString StrokeRepairs::shiftWords(FrameCount shift) const {
    const SampleRate rate = document_.session().rate;
    if (shift == FrameCount{})
        return tr("Together with the other mics");
    if (firstNotch(shift, rate) < lowestHeard)
        return tr("Shifted by %1 ms: a stroke of its own beside the other mics")
            .arg(number(toMilliseconds(shift, rate).value, 0));
    return tr("Shifted by %1 ms (%2) against the other mics: what they share cancels first at %3 Hz")
        .arg(number(toMilliseconds(shift, rate).value, 1), counted(std::abs(shift.frames), tr("frame")),
             number(firstNotch(shift, rate), 0));
}

/// What a move of some mics only has done to the chosen hit.
void StrokeRepairs::tellShift() {
    if (!only() || current() >= document_.outcome().hits.size())
        return;
    const auto patch =
        patchOn(document_.session(), document_.outcome().hits[current()], PatchKind::shift, document_.editedOnly());
    const FrameCount shift = patch ? document_.session().patches[*patch].shift : FrameCount{};
    if (std::exchange(toldShift_, shift) != shift)
        emit notified(shiftWords(shift));
}

void StrokeRepairs::bringTogether() {
    const auto edit = broughtTogether(document_.session(), document_.outcome(), current());
    perform(edit, edit ? shiftWords(edit->patches.front().shift) : QString());
}

void StrokeRepairs::level(double percent, std::optional<Decibels> target) {
    const auto edit =
        levelled(document_.session(), document_.outcome(), sheet_.state().selection, percent, target, mics_.mics());
    QString done;
    if (edit) {
        const QString strokes = counted(std::ssize(edit->patches), tr("stroke"));
        done = target ? tr("%1 levelled to %2 dB").arg(strokes, number(target->value, 1))
                      : tr("%1 levelled to the median of their drum and sort").arg(strokes);
    }
    perform(edit, done);
}

void StrokeRepairs::makeLouder(double decibels) {
    perform(louder(document_.session(), document_.outcome(), sheet_.state().selection, {decibels}, mics_.mics()),
            tr("On %1").arg(mics_.words()), gesture_);
}

void StrokeRepairs::shiftBy(FrameCount later) {
    ChangePatches edit;
    for (const std::size_t index : ofChosen()) {
        Patch patch = document_.session().patches[index];
        if (patch.kind != PatchKind::replace && patch.kind != PatchKind::shift)
            continue;
        patch.shift = patch.shift + later;
        edit.changed.emplace_back(index, patch);
    }
    if (edit.changed.empty())
        return emit notified(tr("Nothing on the chosen hits is replaced or shifted"));
    const Patch first = edit.changed.front().second;
    document_.perform(PatchEdit{edit}, gesture_);
    emit notified(first.kind == PatchKind::shift
                      ? shiftWords(first.shift)
                      : tr("The donor sounds %1 ms later than by its date")
                            .arg(number(toMilliseconds(first.shift, document_.session().rate).value, 2)));
}

void StrokeRepairs::setOnly(bool on) {
    if (!on)
        return document_.editOnly({});
    std::optional<HitIndex> hit = sheet_.state().selected;
    const auto& outcome = document_.outcome();
    if (const auto seam = sheet_.state().seam; !hit && seam && outcome.plan->seams[*seam].between)
        for (HitIndex i; i < outcome.hits.size(); ++i)
            if (outcome.hits[i].found() == outcome.plan->seams[*seam].between->behind)
                hit = i;
    auto stems = mics_.named(hit);
    if (stems.empty()) {
        emit onlyChanged(false);
        return emit notified(tr("Choose a hit or a seam first, or name the mics in Strokes"));
    }
    onlyHits_ = sheet_.state().selection;
    onlySeams_ = sheet_.state().seams;
    toldShift_ = {};
    document_.editOnly(std::move(stems));
    QStringList names;
    for (const std::string& stem : document_.editedOnly())
        names << QString::fromStdString(stem);
    emit notified(tr("Moves, removals and seams are for %1 only, until another hit or seam is chosen")
                      .arg(names.join(QStringLiteral(", "))));
}

void StrokeRepairs::endOnly() {
    if (only() && (onlyHits_ != sheet_.state().selection || onlySeams_ != sheet_.state().seams))
        document_.editOnly({});
}

std::vector<std::size_t> StrokeRepairs::ofChosen() const {
    std::vector<std::size_t> indices;
    const Session& session = document_.session();
    const auto& hits = document_.outcome().hits;
    const auto& chosen = sheet_.state().selection;
    for (std::size_t index = 0; index < session.patches.size(); ++index)
        if (std::any_of(chosen.begin(), chosen.end(),
                        [&](HitIndex hit) { return liesOn(session, session.patches[index], hits[hit]); }))
            indices.push_back(index);
    return indices;
}

void StrokeRepairs::switchPatches() {
    const auto patches = ofChosen();
    if (patches.empty())
        return emit notified(tr("No patch lies on the chosen hits"));
    document_.perform(PatchEdit{SwitchPatches{patches, !document_.session().patches[patches.front()].on}});
}

void StrokeRepairs::deletePatches() {
    const auto patches = ofChosen();
    if (patches.empty())
        return emit notified(tr("No patch lies on the chosen hits"));
    document_.perform(PatchEdit{DeletePatches{patches}});
}

} // namespace lampo
