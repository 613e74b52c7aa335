#pragma once

#include <QString>

namespace lampo {

/// "−1.5", with a real minus sign; "0.0" never has one.
QString number(double value, int decimals);

} // namespace lampo
