#include "look/number.h"

#include "base/text.h"

#include <cmath>

namespace lampo {

QString number(double value, int decimals) {
    QString text = QString::number(std::abs(value), 'f', decimals);
    const bool zero = text.toDouble() == 0;
    return value < 0 && !zero ? QStringLiteral("−") + text : text;
}

QString counted(std::int64_t count, const QString& one, const QString& several) {
    return QString::fromStdString(counted(count, one.toStdString(), several.toStdString()));
}

} // namespace lampo
