#pragma once

#include "document/document.h"
#include "document/heard_samples.h"
#include "document/note_sounds.h"
#include "document/sounding.h"
#include "player/player.h"

#include <QFutureWatcher>
#include <QObject>
#include <QTimer>

namespace lampo {

/// Between the window and the player: makes the programme from the session and what is listened to, and tells where
/// the sound is.
class PlayerControl : public QObject {
    Q_OBJECT
public:
    PlayerControl(Document& document, std::unique_ptr<AudioDevice> device, QObject* parent = nullptr);

    bool playing() const { return player_.playing(); }
    bool isMixedAhead(FrameCount frames) const { return player_.isMixedAhead(frames); }
    bool playsLanded() const { return landed_; }
    /// How what is landed is joined.
    enum class Joints {
        asEdited,
        byRule,    ///< every seam where the rule puts it
        cutsAlone, ///< without fills and fades
    };
    Joints joints() const { return joints_; }
    std::optional<MicIndex> heardAlone() const { return alone_; }
    bool clicks() const { return click_; }
    ResultFrame cursor() const { return cursor_; }
    QString deviceName() const { return QString::fromStdString(player_.deviceName()); }

    void setCursor(ResultFrame at); ///< where play begins; while playing, the sound goes there
    void setLoop(Range<ResultFrame> loop);
    Range<ResultFrame> loop() const { return loop_; }

    /// Plays a stretch of one take as it was recorded and stops; one mic alone, or all that are not silent.
    void audition(const Placed& where, Range<SourceFrame> stretch, std::optional<MicIndex> mic = std::nullopt);
    /// From one to the other at the same place, without a gap. Levels, mutes and solos stay those of the session.
    /// False when it cannot be heard; the reason was told.
    bool monitor(const Monitored& what);
    const Monitored& monitored() const { return monitored_; }
    /// Two things that are heard in turn: at one loudness around the place if wanted, and as what they differ by.
    struct Comparison {
        Monitored other; ///< beside what is monitored
        bool atOneLoudness = true;
        bool difference = false; ///< only what is monitored has and the other has not
        bool operator==(const Comparison&) const = default;
    };
    /// None: what is monitored is heard as it is.
    void compare(std::optional<Comparison> comparison);
    const std::optional<Comparison>& comparison() const { return comparison_; }

    /// While a mic is given, only it is heard, through the bands it is listened to by.
    void monitorBands(std::optional<MicIndex> mic);
    std::optional<MicIndex> monitoredBands() const { return bands_; }

    /// Drums of our own play the hits in place of the mics; none: the mics are heard.
    void playNotes(std::optional<MidiAs> notes);
    std::optional<MidiAs> playedNotes() const { return notes_; }

public slots:
    void toggle();
    void stop();
    void playLanded(bool landed);
    void playJoints(Joints joints);
    /// One mic alone, without what is beside the kit; none: all of them.
    void playAlone(std::optional<lampo::MicIndex> mic);
    /// From the begin of a stretch to its end, once.
    void playStretch(lampo::Range<lampo::ResultFrame> stretch);
    void setClick(bool on);
    void setLooping(bool on);

signals:
    void moved(lampo::ResultFrame at, bool playing);
    void stateChanged();
    void notified(const QString& sentence);
    /// Dropouts since play began, or that the disk is waited for, in words; empty when all is well.
    void interrupted(const QString& words);

private:
    void update();
    void tick();
    void play(ResultFrame from);
    void tellTrouble();
    void tellInterruption();
    /// Session and plan of what is heard instead of the edit; nothing when it is gone.
    std::shared_ptr<Programme> programmeOf(const Monitored& what);
    const Sounding* keptSounding(const Monitored& what);
    void listenForLoudness(const std::shared_ptr<const Programme>& programme,
                           const std::shared_ptr<const Programme>& other);
    void addComparison(std::shared_ptr<Programme>& programme);
    std::shared_ptr<const Plan> planHeard() const;
    void listenAsSet(Session& session) const;

    Document& document_;
    HeardSamples* samples_;
    Player player_;
    QTimer timer_;
    bool landed_ = true;
    Joints joints_ = Joints::asEdited;
    std::optional<MicIndex> alone_;
    std::optional<ResultFrame> until_; ///< play stops there
    bool click_ = false;
    bool looping_ = false;
    bool auditioning_ = false;
    std::optional<MicIndex> bands_;
    std::optional<MidiAs> notes_;
    Monitored monitored_;
    std::optional<Comparison> comparison_;
    QFutureWatcher<double> loudness_;        ///< by how much what is monitored is to be louder
    std::shared_ptr<const Outcome> matched_; ///< that it speaks of; null: it is to be listened for
    double matchingGain_ = 1;                ///< its last answer
    /// What was kept and is heard from there: versions and prints take a moment.
    struct {
        std::shared_ptr<const Session> version; ///< that it is of, or whose print it is
        Monitored what;
        bool landed = true;
        std::optional<Sounding> sounding;
    } kept_;
    bool wasPlaying_ = false;
    std::string toldTrouble_;
    QString toldInterruption_;
    std::int64_t dropouts_ = 0; ///< blocks, known already
    std::int64_t dropoutsBefore_ = 0;
    int lastDropoutBar_ = 0;
    int ticksWaited_ = 0;
    Range<ResultFrame> loop_;
    ResultFrame cursor_;
};

} // namespace lampo
