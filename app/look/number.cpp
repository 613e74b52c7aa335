#include "look/number.h"

#include <cmath>

namespace lampo {

QString number(double value, int decimals) {
    QString text = QString::number(std::abs(value), 'f', decimals);
    const bool zero = text.toDouble() == 0;
    return value < 0 && !zero ? QStringLiteral("−") + text : text;
}

} // namespace lampo
