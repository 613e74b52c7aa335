#pragma once

#include "document/numbered_work.h"

#include <QTimer>

#include <chrono>

namespace lampo {

/// Work that is begun when what it is about has not changed for a moment, so that a dragged slider is not waited
/// for.
class DelayedWork : public NumberedWork {
    Q_OBJECT
public:
    /// Whether a job is under way, or about to be.
    bool busy() const { return busy_; }
    /// What it is about changed: wanted() asks for a job when nothing else has for a moment.
    virtual void soon();

signals:
    /// It is time to start.
    void wanted();
    /// busy() did.
    void busyChanged();

protected:
    DelayedWork(std::chrono::milliseconds patience, QObject* parent);

    /// Nothing is asked for any more.
    void notSoon();
    /// Whether a job is under way. Said to others by showBusy().
    void setRunning(bool running) { running_ = running; }
    void showBusy();

private:
    QTimer soon_;
    bool running_ = false;
    bool busy_ = false;
};

} // namespace lampo
