#pragma once

#include <QString>

#include <cstdint>

namespace lampo {

/// "−1.5", with a real minus sign; "0.0" never has one.
QString number(double value, int decimals);
/// See counted() in base/text.h.
QString counted(std::int64_t count, const QString& one, const QString& several = {});

} // namespace lampo
