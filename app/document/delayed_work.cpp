#include "document/delayed_work.h"

namespace lampo {

DelayedWork::DelayedWork(std::chrono::milliseconds patience, QObject* parent) : NumberedWork(parent) {
    soon_.setSingleShot(true);
    soon_.setInterval(patience);
    connect(&soon_, &QTimer::timeout, this, [this] {
        emit wanted();
        showBusy();
    });
}

void DelayedWork::soon() {
    soon_.start();
    showBusy();
}

void DelayedWork::notSoon() {
    soon_.stop();
}

void DelayedWork::showBusy() {
    const bool busy = running_ || soon_.isActive();
    if (std::exchange(busy_, busy) != busy)
        emit busyChanged();
}

} // namespace lampo
