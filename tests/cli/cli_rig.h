#pragma once

#include "support/program.h"
#include "support/temp_folder.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>

namespace lampo::test {

inline Run run(const QStringList& arguments, bool tinyFiles = false) {
    return runProgram(LAMPO_CLI, arguments, {}, tinyFiles);
}

inline QJsonObject json(const std::filesystem::path& file) {
    return QJsonDocument::fromJson(QByteArray::fromStdString(readBytes(file))).object();
}

/// The cells of a table that was written for a spreadsheet.
inline QList<QStringList> table(const std::filesystem::path& file) {
    QList<QStringList> rows;
    for (const QString& line : QString::fromStdString(readBytes(file)).split("\r\n", Qt::SkipEmptyParts))
        rows << line.split(',');
    return rows;
}

/// Slices tile the result, and source and result have the same length.
inline void checkSlices(const QJsonObject& report) {
    int at = 0;
    for (const auto& each : report["slices"].toArray()) {
        const auto slice = each.toObject();
        QCOMPARE(slice["result_start"].toInt(), at);
        at = slice["result_end"].toInt();
        QCOMPARE(slice["source_end"].toInt() - slice["source_start"].toInt(), at - slice["result_start"].toInt());
    }
    QCOMPARE(at, report["length"].toInt());
}

} // namespace lampo::test
