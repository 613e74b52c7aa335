#include "base/kept_memory.h"
#include "look/ink.h"
#include "player/system_device.h"
#include "shell/main_window.h"
#include "shell/quit_signals.h"
#include "shell/shots.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QIcon>
#include <QTimer>

#include <csignal>

int main(int argc, char** argv) {
    // A file that grows too large is reported by write(), with a sentence, instead of ending the program.
    std::signal(SIGXFSZ, SIG_IGN);
    lampo::blockQuitSignals();
    lampo::keepFreedMemory();

    QApplication app(argc, argv);
    QApplication::setApplicationName(QStringLiteral("Lampo"));
    QApplication::setOrganizationName(QStringLiteral("Lampo"));
    QApplication::setApplicationVersion(QStringLiteral(LAMPO_VERSION));
    QApplication::setStyle(QStringLiteral("Fusion"));
    QApplication::setFont(lampo::textFont());
    QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/lampo.svg")));

    QCommandLineParser parser;
    parser.setApplicationDescription(QObject::tr("Makes a drummer's multitrack recording tight."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("input"), QObject::tr("a .lampo project or a folder of mic files"),
                                 QStringLiteral("[input]"));
    const QCommandLineOption shots(QStringLiteral("shots"),
                                   QObject::tr("Draw the main views of the input into this folder and end."),
                                   QStringLiteral("folder"));
    parser.addOption(shots);
    parser.process(app);

    lampo::MainWindow window(lampo::defaultDevice());
    const QStringList inputs = parser.positionalArguments();
    const auto open = [&] { return inputs.isEmpty() || window.open(inputs.first().toStdString()); };
    if (parser.isSet(shots)) {
        window.setAsking(false);
        if (!open()) {
            qCritical("%s", qPrintable(window.notice()));
            return 1;
        }
        lampo::takeShots(window, parser.value(shots).toStdString());
        return 0;
    }
    window.show(); // before anything is asked
    const auto keep = [&window] { window.document().flushJournal(); };
    lampo::quitOnSignals(keep);
    QObject::connect(&app, &QGuiApplication::commitDataRequest, &window, keep); // the desktop's session ends
    // In the event loop, so that whatever is asked can be ended like everything else.
    QTimer::singleShot(0, &window, [&] { inputs.isEmpty() ? window.offerLeftWork() : open(); });
    return QApplication::exec();
}
