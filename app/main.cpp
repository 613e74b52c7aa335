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

#include <algorithm>
#include <csignal>
#include <string_view>

namespace {

void nameApplication() {
    QCoreApplication::setApplicationName(QStringLiteral("Lampo"));
    QCoreApplication::setOrganizationName(QStringLiteral("Lampo"));
    QCoreApplication::setApplicationVersion(QStringLiteral(LAMPO_VERSION));
}

void describe(QCommandLineParser& parser, const QCommandLineOption& shots) {
    parser.setApplicationDescription(QObject::tr("Makes a drummer's multitrack recording tight."));
    parser.addHelpOption();
    parser.addVersionOption();
    parser.addPositionalArgument(QStringLiteral("input"), QObject::tr("a .lampo project or a folder of mic files"),
                                 QStringLiteral("[input]"));
    parser.addOption(shots);
}

/// Help and version are told on machines without a display too.
bool wantsWordsOnly(int argc, char** argv) {
    return std::any_of(argv + 1, argv + argc, [](const char* argument) {
        const std::string_view option(argument);
        return option == "-h" || option == "--help" || option == "--help-all" || option == "-v" ||
               option == "--version";
    });
}

} // namespace

int main(int argc, char** argv) {
    // A file that grows too large is reported by write(), with a sentence, instead of ending the program.
    std::signal(SIGXFSZ, SIG_IGN);
    lampo::blockQuitSignals();
    lampo::keepFreedMemory();

    QCommandLineParser parser;
    const QCommandLineOption shots(QStringLiteral("shots"),
                                   QObject::tr("Draw the main views of the input into this folder and end."),
                                   QStringLiteral("folder"));
    describe(parser, shots);
    if (wantsWordsOnly(argc, argv)) {
        const QCoreApplication words(argc, argv);
        nameApplication();
        parser.process(words);
    }
    QApplication app(argc, argv);
    nameApplication();
    QApplication::setStyle(QStringLiteral("Fusion"));
    QApplication::setFont(lampo::textFont());
    QApplication::setWindowIcon(QIcon(QStringLiteral(":/icons/lampo.svg")));
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
    QTimer::singleShot(0, &window, [&] { inputs.isEmpty() ? window.files().offerLeftWork() : open(); });
    return QApplication::exec();
}
