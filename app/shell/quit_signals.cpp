#include "shell/quit_signals.h"

#include <QCoreApplication>
#include <QSocketNotifier>

#include <csignal>
#include <sys/signalfd.h>
#include <unistd.h>

namespace lampo {
namespace {

sigset_t quitting() {
    sigset_t quit;
    sigemptyset(&quit);
    for (const int signal : {SIGINT, SIGTERM, SIGHUP})
        sigaddset(&quit, signal);
    return quit;
}

} // namespace

void blockQuitSignals() {
    const sigset_t quit = quitting();
    pthread_sigmask(SIG_BLOCK, &quit, nullptr);
}

void quitOnSignals(std::function<void()> before) {
    const sigset_t quit = quitting();
    const int descriptor = ::signalfd(-1, &quit, SFD_NONBLOCK | SFD_CLOEXEC);
    if (descriptor < 0)
        return;
    auto* notifier = new QSocketNotifier(descriptor, QSocketNotifier::Read, QCoreApplication::instance());
    QObject::connect(notifier, &QSocketNotifier::activated, notifier, [descriptor, before = std::move(before)] {
        signalfd_siginfo signal{};
        if (::read(descriptor, &signal, sizeof signal) != sizeof signal)
            return;
        before();
        QCoreApplication::exit(128 + static_cast<int>(signal.ssi_signo));
    });
}

} // namespace lampo
