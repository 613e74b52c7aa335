#include "audio/sample_format.h"

#include "base/text.h"

#include <algorithm>

namespace lampo {

std::string name(SampleFormat format) {
    return std::string(containerNames.of(format.container)) += encodingNames.of(format.encoding);
}

std::optional<SampleFormat> formatNamed(std::string_view wanted) {
    const auto* found = std::find_if(allSampleFormats.begin(), allSampleFormats.end(),
                                     [&](const SampleFormat& format) { return name(format) == wanted; });
    return found == allSampleFormats.end() ? std::nullopt : std::optional(*found);
}

std::optional<Container> containerOf(std::string_view ending) {
    const std::string low = lowered(ending);
    if (low == ".wav")
        return Container::wav;
    if (low == ".aif" || low == ".aiff")
        return Container::aiff;
    if (low == ".flac")
        return Container::flac;
    return std::nullopt;
}

std::string_view extension(SampleFormat format) {
    switch (format.container) {
    case Container::aiff:
        return ".aiff";
    case Container::flac:
        return ".flac";
    case Container::wav:
    case Container::bwf:
        break;
    }
    return ".wav";
}

int integerBits(SampleFormat format) {
    switch (format.encoding) {
    case Encoding::int16:
        return 16;
    case Encoding::int24:
        return 24;
    case Encoding::float32:
        break;
    }
    return 0;
}

std::int64_t bytesOf(SampleFormat format) {
    const int bits = integerBits(format);
    return bits == 0 ? 4 : bits / 8;
}

Dither usualDither(SampleFormat format) {
    return format.encoding == Encoding::int16 ? Dither::tpdf : Dither::none;
}

} // namespace lampo
