#pragma once

#include "document/document.h"
#include "samples/sample_tracks.h"

#include <QFutureWatcher>
#include <QObject>

namespace lampo {

/// What the samples play beside the drums of the edit as it is now: lined up behind the window, since that reads
/// files.
class HeardSamples : public QObject {
    Q_OBJECT
public:
    HeardSamples(Document& document, QObject* parent);
    ~HeardSamples() override;
    /// Of the last edit that they were lined up for; null: nothing.
    const std::shared_ptr<const NoteSounds>& notes() const { return notes_; }

public slots:
    void update();

signals:
    void changed();
    void notified(const QString& sentence);

private:
    void arrived();

    struct Lined {
        std::shared_ptr<const Outcome> outcome;
        std::vector<DrumSample> samples;
        Expected<std::vector<SampleTrack>> tracks;
    };

    Document& document_;
    QFutureWatcher<std::shared_ptr<Lined>> work_;
    std::shared_ptr<const Outcome> outcome_; ///< that notes_ are of
    std::vector<DrumSample> samples_;        ///< and these
    std::shared_ptr<const NoteSounds> notes_;
    std::string trouble_; ///< that was told; it is told once
};

} // namespace lampo
