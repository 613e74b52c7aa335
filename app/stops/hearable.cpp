#include "stops/hearable.h"

#include <QObject>

namespace lampo {

std::vector<Hearable> hearableTakes(const Session& session) {
    std::vector<Hearable> all;
    for (TakeIndex take; take < session.takes.size(); ++take)
        all.emplace_back(QObject::tr("take %1 as recorded").arg(QLatin1Char(session.takes[take].letter.value)),
                         Monitored{Monitored::Kind::take, take});
    return all;
}

std::vector<Hearable> hearableVersions(const Session& session) {
    std::vector<Hearable> all;
    for (std::size_t version = 0; version < session.versions.size(); ++version)
        all.emplace_back(QString::fromStdString(session.versions[version].name),
                         Monitored{Monitored::Kind::version, version});
    for (std::size_t version = 0; version < session.versions.size(); ++version)
        if (!session.versions[version].print.empty())
            all.emplace_back(
                QObject::tr("the print of %1").arg(QString::fromStdString(session.versions[version].name)),
                Monitored{Monitored::Kind::print, version});
    return all;
}

} // namespace lampo
