#pragma once

#include <QObject>

#include <functional>
#include <thread>
#include <utility>

namespace lampo {

/// Work behind the window, job after job: what an earlier job tells and has not arrived is no longer wanted. Used
/// from the window's thread, but for post(). Classes of it call endJob() in their destructor, before what their job
/// uses is gone.
class NumberedWork : public QObject {
public:
    ~NumberedWork() override;

protected:
    using QObject::QObject;

    /// Begins one on a thread of its own, with its number for post(), in place of the one before: that is left,
    /// and who waits for its end is the new one, not the window.
    void startJob(std::function<void(const std::stop_token& stop, int number)> job);
    /// Tells the job to end; nothing that it posts arrives any more. Not waited for.
    void leaveJob();
    /// Leaves the job and waits until it has ended.
    void endJob();
    /// From any thread: `call` runs on the window's, unless the job of that number was left until then.
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
    std::jthread thread_;
};

} // namespace lampo
