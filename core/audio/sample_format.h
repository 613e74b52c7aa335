#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace lampo {

/// What a print is written as. The names are those of the command line.
enum class SampleFormat { wav16, wav24, wav32f, flac16, flac24 };

inline constexpr SampleFormat allSampleFormats[] = {SampleFormat::wav16, SampleFormat::wav24, SampleFormat::wav32f,
                                                    SampleFormat::flac16, SampleFormat::flac24};

std::string_view name(SampleFormat format);
std::optional<SampleFormat> sampleFormatNamed(std::string_view name);
/// With the dot: ".wav" or ".flac".
std::string_view extension(SampleFormat format);
/// 0 for floating point.
int integerBits(SampleFormat format);

} // namespace lampo
