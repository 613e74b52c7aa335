#pragma once

#include "base/enum_names.h"

#include <optional>
#include <string>
#include <string_view>

namespace lampo {

/// What a print is written as. The names are those of the command line.
enum class SampleFormat { wav16, wav24, wav32f, flac16, flac24 };

inline constexpr SampleFormat allSampleFormats[] = {SampleFormat::wav16, SampleFormat::wav24, SampleFormat::wav32f,
                                                    SampleFormat::flac16, SampleFormat::flac24};

/// As the command line has it.
inline constexpr EnumNames<SampleFormat, SampleFormat::flac24> sampleFormatNames{"wav16", "wav24", "wav32f",
                                                                                 "flac16", "flac24"};
std::string_view name(SampleFormat format);
/// With the dot: ".wav" or ".flac".
std::string_view extension(SampleFormat format);
/// 0 for floating point.
int integerBits(SampleFormat format);

} // namespace lampo
