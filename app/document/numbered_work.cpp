#include "document/numbered_work.h"

#include <memory>

namespace lampo {

NumberedWork::~NumberedWork() {
    Q_ASSERT(!thread_.joinable());
}

void NumberedWork::startJob(std::function<void(const std::stop_token&, int)> job) {
    leaveJob();
    thread_ = std::jthread([before = std::make_shared<std::jthread>(std::move(thread_)), job = std::move(job),
                            number = number_](const std::stop_token& stop) {
        if (before->joinable())
            before->join();
        if (!stop.stop_requested())
            job(stop, number);
    });
}

void NumberedWork::leaveJob() {
    ++number_;
    thread_.request_stop();
}

void NumberedWork::endJob() {
    leaveJob();
    if (thread_.joinable())
        thread_.join();
}

} // namespace lampo
