#include "document/heard_samples.h"

#include <QtConcurrent>

namespace lampo {

HeardSamples::HeardSamples(Document& document, QObject* parent) : QObject(parent), document_(document) {
    connect(&document_, &Document::changed, this, &HeardSamples::update);
    connect(&work_, &QFutureWatcher<std::shared_ptr<Lined>>::finished, this, &HeardSamples::arrived);
}

HeardSamples::~HeardSamples() {
    work_.waitForFinished();
}

void HeardSamples::update() {
    const Session& session = document_.session();
    if (work_.isRunning() || (outcome_ == document_.sharedOutcome() && samples_ == session.samples))
        return; // arrived() looks again
    if (session.samples.empty()) {
        outcome_ = document_.sharedOutcome();
        samples_.clear();
        if (std::exchange(notes_, nullptr))
            emit changed();
        return;
    }
    work_.setFuture(QtConcurrent::run([session, outcome = document_.sharedOutcome()] {
        return std::make_shared<Lined>(Lined{outcome, session.samples, sampleTracks(session, *outcome, {})});
    }));
}

void HeardSamples::arrived() {
    Lined& lined = *work_.result();
    outcome_ = lined.outcome;
    samples_ = std::move(lined.samples);
    notes_ = lined.tracks ? allNotes(*lined.tracks) : nullptr;
    const std::string trouble = lined.tracks ? std::string() : lined.tracks.error().sentence;
    if (std::exchange(trouble_, trouble) != trouble && !trouble.empty())
        emit notified(QString::fromStdString(trouble));
    emit changed();
    update();
}

} // namespace lampo
