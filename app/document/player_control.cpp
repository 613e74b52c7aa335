#include "document/player_control.h"

#include "hits/detection.h"
#include "map/musical_map.h"

#include <QtConcurrent>

#include <cmath>
#include <utility>

namespace lampo {
namespace {

constexpr Milliseconds auditionFade{2};
constexpr Seconds comparedFor{2};     ///< to both sides of the place, of what is to be as loud
constexpr int longestQuietWait = 300; ///< ms; a shorter wait for the disk is not worth a word

void monitorOnly(Session& session, std::size_t heard) {
    for (MicIndex mic; mic < session.mics.size(); ++mic) {
        session.mics[mic].solo = mic == heard;
        session.mics[mic].mute = false;
    }
}

} // namespace

PlayerControl::PlayerControl(Document& document, std::unique_ptr<AudioDevice> device, QObject* parent)
    : QObject(parent), document_(document), samples_(new HeardSamples(document, this)), player_(std::move(device)) {
    connect(samples_, &HeardSamples::changed, this, &PlayerControl::update);
    connect(samples_, &HeardSamples::notified, this, &PlayerControl::notified);
    connect(&document_, &Document::changed, this, &PlayerControl::update);
    connect(&document_, &Document::fileChanged, this, [this] {
        if (document_.history().count() == 0 && cursor_.frame > document_.session().length().frames)
            setCursor(ResultFrame{0});
    });
    connect(&loudness_, &QFutureWatcher<double>::finished, this, [this] {
        matchingGain_ = loudness_.result();
        update();
    });
    connect(&timer_, &QTimer::timeout, this, &PlayerControl::tick);
    timer_.setInterval(16);
}

void PlayerControl::update() {
    const Session& session = document_.session();
    if (std::exchange(auditioning_, false))
        player_.stop();
    player_.setLoop(looping_ ? loop_ : Range<ResultFrame>{});
    if (session.empty())
        return player_.setProgramme(nullptr);
    auto programme = programmeOf(monitored_);
    if (!programme) {
        monitored_ = {};
        programme = programmeOf(monitored_);
        emit stateChanged();
    }
    addComparison(programme);
    programme->click = click_ && !programme->without;
    if (alone_ && *alone_ < programme->session.mics.size()) {
        monitorOnly(programme->session, *alone_);
        for (Companion& companion : programme->session.companions)
            companion.mute = true;
    }
    if (bands_ && *bands_ < session.mics.size()) {
        monitorOnly(programme->session, *bands_);
        programme->emphasis = Programme::Emphasis{*bands_, emphasisOf(session.mics[*bands_])};
    }
    if (landed_ && monitored_.kind == Monitored::Kind::edit && !alone_ && !bands_)
        programme->notes = samples_->notes();
    if (notes_ && monitored_.kind == Monitored::Kind::edit) {
        programme->mics = false;
        programme->notes = noteSoundsOf(session, document_.outcome(), *notes_);
    }
    player_.setProgramme(std::move(programme));
}

void PlayerControl::playNotes(std::optional<MidiAs> notes) {
    notes_ = notes;
    update();
}

/// By how much one programme is to be louder to be as loud as another around the place: behind the window, since
/// some seconds of all mics are read for it.
void PlayerControl::listenForLoudness(const std::shared_ptr<const Programme>& programme,
                                      const std::shared_ptr<const Programme>& other) {
    if (matched_ == document_.sharedOutcome())
        return;
    matched_ = document_.sharedOutcome();
    const FrameCount reach = toFrames(comparedFor, document_.session().rate);
    const ResultFrame at = player_.playing() ? player_.position() : cursor_;
    const Range<ResultFrame> around{std::max(ResultFrame{0}, at - reach), at + reach};
    loudness_.setFuture(QtConcurrent::run([programme, other, around] {
        const auto own = loudnessOf(programme, around), its = loudnessOf(other, around);
        return own && its ? std::clamp(*its / *own, 0.1, 10.0) : 1.0;
    }));
}

/// What is heard in turn differs in nothing but what it is; what is heard of a difference has no companions.
void PlayerControl::addComparison(std::shared_ptr<Programme>& programme) {
    if (!comparison_)
        return;
    auto other = programmeOf(comparison_->other);
    if (!other) {
        comparison_.reset();
        return;
    }
    if (alone_ && *alone_ < programme->session.mics.size()) {
        monitorOnly(programme->session, *alone_);
        if (const auto same = other->session.micNamed(programme->session.mics[*alone_].stem))
            monitorOnly(other->session, *same);
    }
    const auto withoutCompanions = [](Programme& one) {
        for (Companion& companion : one.session.companions)
            companion.mute = true;
    };
    Programme kit = *programme, otherKit = *other;
    withoutCompanions(kit);
    withoutCompanions(otherKit);
    if (comparison_->atOneLoudness) {
        listenForLoudness(std::make_shared<const Programme>(kit), std::make_shared<const Programme>(otherKit));
        programme->gain = matchingGain_;
    }
    if (comparison_->difference) {
        withoutCompanions(*programme);
        programme->without = std::make_shared<const Programme>(otherKit);
    }
}

void PlayerControl::compare(std::optional<Comparison> comparison) {
    if (comparison_ == comparison)
        return;
    comparison_ = std::move(comparison);
    matched_.reset(); // the place may be another one
    update();
    emit stateChanged();
}

void PlayerControl::listenAsSet(Session& session) const {
    for (Mic& mic : session.mics) {
        const auto& mics = document_.session().mics;
        if (const auto now = document_.session().micNamed(mic.stem)) {
            mic.level = mics[*now].level;
            mic.mute = mics[*now].mute;
            mic.solo = mics[*now].solo;
        }
    }
}

std::shared_ptr<const Plan> PlayerControl::planHeard() const {
    const Session& session = document_.session();
    if (!landed_)
        return playedPlan(session, document_.outcome());
    switch (joints_) {
    case Joints::byRule:
        return ruledPlan(session, document_.outcome());
    case Joints::cutsAlone:
        return rawPlan(session, document_.outcome());
    case Joints::asEdited:
        break;
    }
    return document_.outcome().plan;
}

/// Null when it is gone or cannot be read; the reason was told.
const Sounding* PlayerControl::keptSounding(const Monitored& what) {
    const Session& session = document_.session();
    const auto version = what.index < session.versions.size() ? session.versions[what.index].session : nullptr;
    if (!kept_.sounding || kept_.version != version || kept_.what != what || kept_.landed != landed_) {
        auto sounding = soundingOf(what, session, document_.outcome(), document_.analyses(), landed_);
        if (!sounding) {
            if (version)
                emit notified(QString::fromStdString(sounding.error().sentence));
            return nullptr;
        }
        kept_ = {version, what, landed_, std::move(*sounding)};
    }
    return &*kept_.sounding;
}

std::shared_ptr<Programme> PlayerControl::programmeOf(const Monitored& what) {
    auto programme = std::make_shared<Programme>();
    if (what.kind == Monitored::Kind::edit) {
        programme->session = document_.session();
        programme->plan = planHeard();
        return programme;
    }
    if (what.kind == Monitored::Kind::version || what.kind == Monitored::Kind::print) {
        const Sounding* kept = keptSounding(what);
        if (!kept)
            return nullptr;
        programme->session = kept->session;
        programme->plan = kept->plan;
        listenAsSet(programme->session);
        return programme;
    }
    auto sounding = soundingOf(what, document_.session(), document_.outcome(), document_.analyses());
    if (!sounding)
        return nullptr;
    programme->session = std::move(sounding->session);
    programme->plan = std::move(sounding->plan);
    return programme;
}

bool PlayerControl::monitor(const Monitored& what) {
    if (document_.session().empty())
        return false;
    const Monitored before = std::exchange(monitored_, what);
    matched_.reset();
    update();
    if (monitored_ != before)
        emit stateChanged();
    return monitored_ == what;
}

void PlayerControl::toggle() {
    if (player_.playing())
        return stop();
    if (document_.session().empty())
        return;
    if (looping_ && !loop_.empty() && !loop_.contains(cursor_))
        cursor_ = loop_.begin;
    if (cursor_.frame >= document_.session().length().frames)
        cursor_ = ResultFrame{0};
    update();
    play(cursor_);
}

void PlayerControl::play(ResultFrame from) {
    until_.reset();
    dropouts_ = dropoutsBefore_ = player_.dropouts();
    player_.play(from);
    timer_.start();
    tick();
}

void PlayerControl::stop() {
    player_.stop();
    tick();
}

void PlayerControl::audition(const Placed& where, Range<SourceFrame> stretch, std::optional<MicIndex> mic) {
    const Session& session = document_.session();
    if (session.empty() || stretch.empty())
        return;
    const Range<ResultFrame> sounds{asResult(stretch.begin + where.shift), asResult(stretch.end + where.shift)};
    const FrameCount fade = toFrames(auditionFade, session.rate);
    auto plan = std::make_shared<Plan>();
    plan->length = FrameCount{sounds.end.frame};
    plan->segments = {{where.take, asResult(where.shift), sounds, fade, fade}};
    auto programme = std::make_shared<Programme>();
    programme->session = session;
    for (Companion& companion : programme->session.companions)
        companion.mute = true;
    if (mic)
        monitorOnly(programme->session, *mic);
    programme->plan = std::move(plan);
    player_.stop();
    player_.setLoop({});
    player_.setProgramme(std::move(programme));
    auditioning_ = true;
    play(sounds.begin);
}

void PlayerControl::monitorBands(std::optional<MicIndex> mic) {
    if (bands_ == mic)
        return;
    bands_ = mic;
    update();
    emit stateChanged();
}

void PlayerControl::tick() {
    if (until_ && player_.playing() && player_.position() >= *until_)
        player_.stop();
    const bool playing = player_.playing();
    emit moved(playing ? player_.position() : cursor_, playing);
    if (playing != wasPlaying_) {
        wasPlaying_ = playing;
        emit stateChanged();
    }
    tellTrouble();
    tellInterruption();
    if (!playing)
        timer_.stop();
}

void PlayerControl::tellTrouble() {
    const std::string trouble = player_.trouble();
    if (trouble == toldTrouble_)
        return;
    toldTrouble_ = trouble;
    emit notified(trouble.empty() ? tr("It plays again") : QString::fromStdString(trouble));
}

void PlayerControl::tellInterruption() {
    const Session& session = document_.session();
    if (const std::int64_t dropouts = player_.dropouts(); dropouts != dropouts_) {
        dropouts_ = dropouts;
        lastDropoutBar_ = MusicalMap(session.map, session.rate).barAt(asSong(player_.position()));
    }
    ticksWaited_ = player_.waiting() && player_.trouble().empty() ? ticksWaited_ + 1 : 0;
    QString words;
    if (ticksWaited_ * timer_.interval() > longestQuietWait)
        words = tr("waiting for the disk");
    else if (const std::int64_t blocks = dropouts_ - dropoutsBefore_; blocks > 0)
        words = tr("dropouts: %1 ms, last in bar %2")
                    .arg(std::llround(1000.0 * static_cast<double>(blocks * blockFrames) / session.rate.hz))
                    .arg(lastDropoutBar_);
    if (words == toldInterruption_)
        return;
    toldInterruption_ = words;
    emit interrupted(words);
}

void PlayerControl::setCursor(ResultFrame at) {
    cursor_ = at;
    if (player_.playing())
        player_.play(at);
    else
        emit moved(at, false);
}

void PlayerControl::playJoints(Joints joints) {
    if (std::exchange(joints_, joints) != joints)
        update();
}

void PlayerControl::playAlone(std::optional<MicIndex> mic) {
    if (std::exchange(alone_, mic) != mic)
        update();
}

void PlayerControl::playStretch(Range<ResultFrame> stretch) {
    if (document_.session().empty())
        return;
    update();
    play(stretch.begin);
    until_ = stretch.end;
}

void PlayerControl::playLanded(bool landed) {
    if (landed_ == landed)
        return;
    landed_ = landed;
    update();
    emit stateChanged();
}

void PlayerControl::setClick(bool on) {
    if (click_ == on)
        return;
    click_ = on;
    update();
    emit stateChanged();
}

void PlayerControl::setLooping(bool on) {
    looping_ = on;
    if (!auditioning_)
        player_.setLoop(looping_ ? loop_ : Range<ResultFrame>{});
}

void PlayerControl::setLoop(Range<ResultFrame> loop) {
    loop_ = loop;
    setLooping(looping_);
}

} // namespace lampo
