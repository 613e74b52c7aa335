#include "stops/repairs/stretch_repairs.h"

#include "look/number.h"

#include <QtConcurrent>

namespace lampo {

StretchRepairs::StretchRepairs(Document& document, SheetWidget& sheet, MicChoice& mics)
    : document_(document), sheet_(sheet), mics_(mics) {
    connect(&document_, &Document::changed, this, &StretchRepairs::listen);
    connect(&listening_, &QFutureWatcherBase::finished, this, [this] {
        if (silences_.empty())
            return;
        const auto away = listening_.result();
        QStringList lines;
        if (!away)
            lines << QString::fromStdString(away.error().sentence);
        else
            for (const TakenAway& one : *away)
                lines << tr("%1: %2 s silent; what is taken away has %3 dBFS on average, %4 at its loudest")
                             .arg(QString::fromStdString(one.mic),
                                  number(toSeconds(one.length, document_.session().rate).value, 0),
                                  number(one.mean.value, 0), number(one.loudest.value, 0));
        taken_ = lines.join(QLatin1Char('\n'));
        emit takenChanged();
    });
}

void StretchRepairs::perform(const Expected<AddPatches>& edit, const QString& done) {
    if (!edit)
        return emit notified(QString::fromStdString(edit.error().sentence));
    if (document_.perform(PatchEdit{*edit}))
        emit notified(done);
}

void StretchRepairs::silence() {
    const auto stems = mics_.named(sheet_.state().selected);
    perform(silenced(document_.session(), document_.outcome(), sheet_.state().loop, stems),
            tr("Silent on %1").arg(counted(std::ssize(stems), tr("mic"))));
}

void StretchRepairs::borrow(const BorrowFrom& from) {
    const auto stems = mics_.named(sheet_.state().selected);
    const auto edit =
        borrowed(document_.session(), document_.analyses(), document_.outcome(), sheet_.state().loop, stems, from);
    perform(edit,
            edit ? tr("%1 borrowed for %2 from take %3")
                       .arg(counted(std::ssize(edit->patches), tr("slice")), counted(std::ssize(stems), tr("mic")))
                       .arg(QLatin1Char(document_.session().takes[from.take].letter.value))
                 : QString());
}

void StretchRepairs::silenceToms() {
    const auto edit = tomsSilenced(document_.session(), document_.outcome());
    perform(edit, edit ? tr("%1 silenced").arg(counted(std::ssize(edit->patches), tr("stretch"), tr("stretches")))
                       : QString());
}

void StretchRepairs::switchTomSilences() {
    const auto silences = tomSilences(document_.session());
    if (silences.empty())
        return emit notified(tr("No tom mic is silenced"));
    const bool on = !document_.session().patches[silences.front()].on;
    document_.perform(PatchEdit{SwitchPatches{silences, on}});
    emit notified(on ? tr("Tom mics are silent outside their strokes") : tr("Tom mics sound all the time"));
}

/// Behind the window: it reads all that is silenced.
void StretchRepairs::listen() {
    std::vector<Patch> silences;
    for (const Patch& patch : document_.session().patches)
        if (patch.kind == PatchKind::silence && patch.on)
            silences.push_back(patch);
    if (std::exchange(silences_, silences) == silences)
        return;
    taken_ = silences.empty() ? QString() : tr("Listening to what is taken away …");
    emit takenChanged();
    if (silences.empty())
        return;
    listening_.setFuture(QtConcurrent::run([session = document_.session(), silences] {
        KitReader kit(session);
        return takenAway(session, kit, silences);
    }));
}

} // namespace lampo
