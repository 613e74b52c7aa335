#pragma once

#include "support/temp_folder.h"

#include <QProcess>
#include <QString>
#include <QStringList>

#include <filesystem>
#include <sys/resource.h>

namespace lampo::test {

/// What a program did: its exit code (−1: killed) and what it said.
struct Run {
    int code = 0;
    QString out, err;
};

inline QString text(const std::filesystem::path& path) {
    return QString::fromStdString(path.string());
}

/// Runs a program to its end; `environment` is added to this one's. Under `tinyFiles` no file grows beyond 200 kB.
inline Run runProgram(const char* program, const QStringList& arguments, const QStringList& environment = {},
                      bool tinyFiles = false) {
    QProcess process;
    process.setEnvironment(QProcess::systemEnvironment() + environment);
    if (tinyFiles)
        process.setChildProcessModifier([] {
            const rlimit limit{200000, 200000};
            setrlimit(RLIMIT_FSIZE, &limit);
        });
    process.start(QString::fromUtf8(program), arguments);
    process.waitForFinished(120000);
    return {process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1,
            QString::fromUtf8(process.readAllStandardOutput()), QString::fromUtf8(process.readAllStandardError())};
}

/// Whether a running program holds a signal back, to take it when it is ready (Linux: proc(5)).
inline bool holdsBack(qint64 process, int signal) {
    const auto status = QByteArray::fromStdString(readBytes("/proc/" + std::to_string(process) + "/status"));
    const auto at = status.indexOf("SigBlk:");
    return at >= 0 && (status.mid(at + 7, 17).trimmed().toULongLong(nullptr, 16) >> (signal - 1) & 1) != 0;
}

} // namespace lampo::test
