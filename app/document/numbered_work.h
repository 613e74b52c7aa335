#pragma once

#include <QObject>

#include <utility>

namespace lampo {

/// Work behind the window, job after job: what an earlier job tells and has not arrived is no longer wanted.
class NumberedWork : public QObject {
protected:
    using QObject::QObject;

    /// The number of the job under way.
    int number() const { return number_; }
    /// From now on only a new job is heard.
    void forgetJob() { ++number_; }
    /// From any thread: `call` runs on the window's, unless the job was forgotten until then.
    template <class Call>
    void post(int number, Call&& call) {
        QMetaObject::invokeMethod(
            this,
            [this, number, call = std::forward<Call>(call)] {
                if (number == number_)
                    call();
            },
            Qt::QueuedConnection);
    }

private:
    int number_ = 0;
};

} // namespace lampo
