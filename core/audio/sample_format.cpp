#include "audio/sample_format.h"

namespace lampo {

std::string_view name(SampleFormat format) {
    switch (format) {
    case SampleFormat::wav16:
        return "wav16";
    case SampleFormat::wav24:
        return "wav24";
    case SampleFormat::wav32f:
        return "wav32f";
    case SampleFormat::flac16:
        return "flac16";
    case SampleFormat::flac24:
        return "flac24";
    }
    return "";
}

std::optional<SampleFormat> sampleFormatNamed(std::string_view text) {
    for (const auto format : allSampleFormats)
        if (name(format) == text)
            return format;
    return std::nullopt;
}

std::string_view extension(SampleFormat format) {
    return format == SampleFormat::flac16 || format == SampleFormat::flac24 ? ".flac" : ".wav";
}

int integerBits(SampleFormat format) {
    switch (format) {
    case SampleFormat::wav16:
    case SampleFormat::flac16:
        return 16;
    case SampleFormat::wav24:
    case SampleFormat::flac24:
        return 24;
    case SampleFormat::wav32f:
        return 0;
    }
    return 0;
}

} // namespace lampo
