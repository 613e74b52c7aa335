#pragma once

#include <QCoreApplication>
#include <QStringList>

namespace lampo {

/// The stops, in the order people work.
enum class Stop { kit, map, takes, hits, timing, seams, proof, print };

/// Their names as shown, by Stop.
inline QStringList stopNames() {
    const auto tr = [](const char* name) { return QCoreApplication::translate("Stop", name); };
    return {tr("Kit"), tr("Map"), tr("Takes"), tr("Hits"), tr("Timing"), tr("Seams"), tr("Proof"), tr("Print")};
}

} // namespace lampo
