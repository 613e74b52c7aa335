#pragma once

#include "base/enum_names.h"

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace lampo {

/// The kind of a file of sound. `bwf` is a WAV with a chunk "bext" (EBU Tech 3285), which says where it belongs.
enum class Container { wav, bwf, aiff, flac };
inline constexpr EnumNames<Container, Container::flac> containerNames{"wav", "bwf", "aiff", "flac"};

/// How a sample is written.
enum class Encoding { int16, int24, float32 };
/// As they end the names of formats.
inline constexpr EnumNames<Encoding, Encoding::float32> encodingNames{"16", "24", "32f"};

/// What a file of sound is written as. All pairs but floating point in FLAC, which cannot hold it.
struct SampleFormat {
    Container container; ///< the kind of file
    Encoding encoding;   ///< of each sample
    bool operator==(const SampleFormat&) const = default;

    static const SampleFormat wav16;  ///< those that are spoken of most
    static const SampleFormat wav24;  ///< what prints are by default
    static const SampleFormat wav32f; ///< what holds everything
    static const SampleFormat flac16; ///< half as long
    static const SampleFormat flac24; ///< and this
};
inline constexpr SampleFormat SampleFormat::wav16{Container::wav, Encoding::int16};
inline constexpr SampleFormat SampleFormat::wav24{Container::wav, Encoding::int24};
inline constexpr SampleFormat SampleFormat::wav32f{Container::wav, Encoding::float32};
inline constexpr SampleFormat SampleFormat::flac16{Container::flac, Encoding::int16};
inline constexpr SampleFormat SampleFormat::flac24{Container::flac, Encoding::int24};

inline constexpr std::array<SampleFormat, 11> allSampleFormats{{
    SampleFormat::wav16,
    SampleFormat::wav24,
    SampleFormat::wav32f,
    {Container::bwf, Encoding::int16},
    {Container::bwf, Encoding::int24},
    {Container::bwf, Encoding::float32},
    {Container::aiff, Encoding::int16},
    {Container::aiff, Encoding::int24},
    {Container::aiff, Encoding::float32},
    SampleFormat::flac16,
    SampleFormat::flac24,
}};

/// As the command line has it: "wav24", "aiff32f".
std::string name(SampleFormat format);
/// None for what is no format.
std::optional<SampleFormat> formatNamed(std::string_view name);
/// The container by a file's ending, in any case; none for another one.
std::optional<Container> containerOf(std::string_view ending);
/// With the dot: ".wav", ".aiff" or ".flac".
std::string_view extension(SampleFormat format);
/// 0 for floating point.
int integerBits(SampleFormat format);
/// Of a sample as it lies in a file without compression.
std::int64_t bytesOf(SampleFormat format);

/// What happens to samples that a whole number cannot hold: they are rounded, or noise of a triangular density two
/// steps wide is added before (Lipshitz, Wannamaker and Vanderkooy, "Quantization and dither", 1992), which makes
/// the error independent of the sound. Samples that the number holds stay as they are either way.
enum class Dither { none, tpdf };
inline constexpr EnumNames<Dither, Dither::tpdf> ditherNames{"none", "tpdf"};
/// Where nobody said otherwise: 16 bits need it; at 24 bits the error lies at -146 dBFS, below every converter.
Dither usualDither(SampleFormat format);

} // namespace lampo
